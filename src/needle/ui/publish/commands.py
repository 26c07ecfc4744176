"""What can be done in Publish, whether or not it was made yet."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from needle.core.values.targets import TARGET_KINDS
from needle.ui.commands import Command
from needle.ui.language import tr

if TYPE_CHECKING:
    from needle.ui.publish.stage import PublishStage

__all__ = ["publish_commands"]


def publish_commands(publish: Callable[[], "PublishStage"]) -> list[Command]:
    """Return what can be done in Publish; `publish` gives the stage, and makes it if need be."""
    return [*_sending(publish), *_targets(publish), *_parts(publish)]


def _sending(publish: Callable[[], "PublishStage"]) -> list[Command]:
    return [
        Command(id="publish.send", menu="Publish", title=tr("Send the chosen pages"),
                keys="Ctrl+Return", run=lambda: publish().send(), keywords="publish live release",
                unless=lambda: "" if publish().to_send() else
                tr("Every page is as it is live. Nothing to send.")),
        Command(id="publish.differences", menu="Publish", title=tr("What changed since…"),
                run=lambda: publish().sending.show_differences(),
                keywords="compare draft live picture"),
        Command(id="publish.links", menu="Publish", title=tr("Ask for outside links"),
                run=lambda: publish().snags.links.ask_or_stop(),
                keywords="dead broken moved check",
                unless=lambda: publish().snags.links.nothing_to_ask()),
        Command(id="publish.off", menu="Publish", title=tr("Take the page off…"),
                run=lambda: publish().sending.take_chosen_off(),
                unless=lambda: publish().sending.not_live()),
        Command(id="publish.later", menu="Publish", title=tr("Send or take off at a time…"),
                run=lambda: publish().sending.set_for_later(),
                keywords="schedule date end offer",
                unless=lambda: "" if publish().to_send() or not publish().sending.not_live() else
                tr("Nothing to send, and the chosen page is not live.")),
        Command(id="publish.open", menu="Publish", title=tr("Open the page in a browser"),
                keys="Ctrl+Alt+O", run=lambda: publish().sending.open_chosen(),
                unless=lambda: publish().sending.not_live())]


def _targets(publish: Callable[[], "PublishStage"]) -> list[Command]:
    return [
        *(Command(id=f"publish.add.{kind}", menu="Publish",
                  title=tr("Add a target: {kind}…", kind=words),
                  run=lambda k=kind: publish().targets.add(k))  # type: ignore[misc]
          for kind, words in TARGET_KINDS.items()),
        Command(id="publish.target", menu="Publish", title=tr("Send to the chosen target"),
                run=lambda: publish().targets.send_chosen(), keywords="server folder upload",
                unless=lambda: "" if publish().targets.chosen() else
                tr("Choose one under Goes to first.")),
        Command(id="publish.back", menu="Publish", title=tr("Bring the chosen send back"),
                run=lambda: publish().earlier.bring_chosen_back(),
                keywords="release undo earlier",
                unless=lambda: "" if publish().earlier.chosen() else tr("Nothing was sent yet."))]


def _parts(publish: Callable[[], "PublishStage"]) -> list[Command]:
    return [
        Command(id="publish.domain", menu="Publish", title=tr("Own domain"),
                run=lambda: publish().show_part(tr("Domain")), keywords="dns name address"),
        Command(id="publish.certificate", menu="Publish", title=tr("Get a certificate"),
                run=lambda: publish().domain.ask_for_certificate(), keywords="https tls acme safe",
                unless=lambda: publish().domain.certificate.why_not()),
        Command(id="publish.elsewhere", menu="Publish",
                title=tr("A form or popup on another site"),
                run=lambda: publish().show_part(tr("Elsewhere")),
                keywords="embed snippet frame outside"),
        Command(id="publish.search", menu="Publish", title=tr("Titles and descriptions"),
                run=lambda: publish().show_part(tr("Search and sharing")), keywords="seo share"),
        Command(id="publish.folder", menu="Publish", title=tr("Write the draft to a folder…"),
                run=lambda: publish().sending.ask_folder())]
