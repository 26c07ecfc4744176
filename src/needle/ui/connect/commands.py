"""What can be done in Connect, whether or not it was made yet."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from needle.core.edit.forms import delete_form
from needle.ui.commands import Command, showing
from needle.ui.language import tr
from needle.ui.session import Session

if TYPE_CHECKING:
    from needle.ui.connect.stage import ConnectStage

__all__ = ["PARTS", "connect_commands"]

PARTS = ("Forms", "Services", "Tracking", "Shop")


def connect_commands(connect: Callable[[], "ConnectStage"], session: Session) -> list[Command]:
    """Return what can be done in Connect; `connect` gives the stage, and makes it if need be."""
    def no_form() -> str:
        return "" if connect().forms.form else tr("There is no form yet. Make one first.")

    def cannot_delete() -> str:
        form = connect().forms.form
        return no_form() or session.hindrance(
            lambda site: delete_form(site, form.id))  # type: ignore[union-attr]

    return [
        Command(id="connect.new", menu="Connect", title=tr("New form"), keys="Ctrl+Alt+F",
                run=lambda: connect().forms.new_form()),
        Command(id="connect.copy", menu="Connect", title=tr("Copy the chosen form"),
                run=lambda: connect().forms.copy_chosen(), unless=no_form),
        Command(id="connect.delete", menu="Connect", title=tr("Delete the chosen form"),
                run=lambda: connect().forms.delete_chosen(), unless=cannot_delete),
        Command(id="connect.trial", menu="Connect", title=tr("Send a trial lead"),
                keys="Ctrl+Alt+T", run=lambda: connect().send_trial(), unless=no_form),
        Command(id="connect.visit", menu="Connect", title=tr("Trial visit: which codes fire"),
                keys="Ctrl+Alt+K", run=lambda: connect().tracking.visit()),
        Command(id="connect.link", menu="Connect", title=tr("Make a campaign link"),
                keys="Ctrl+Alt+L", run=lambda: connect().make_link()),
        Command(id="connect.wire", menu="Connect", title=tr("What went over the wire"),
                run=lambda: connect().forms.deliveries.show_exchange()),
        Command(id="connect.retry", menu="Connect", title=tr("Try waiting deliveries now"),
                run=lambda: connect().forms.retry()),
        *showing("Connect", PARTS, lambda name: connect().show_part(name))]
