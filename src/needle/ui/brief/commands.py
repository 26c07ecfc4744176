"""What can be done in Brief, whether or not it was made yet."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from needle.ui.commands import Command, showing
from needle.ui.language import tr

if TYPE_CHECKING:
    from needle.ui.brief.stage import BriefStage

__all__ = ["PARTS", "brief_commands"]

PARTS = ("Brief", "Brand", "Pictures and files", "Templates", "From a picture")


def brief_commands(brief: Callable[[], "BriefStage"]) -> list[Command]:
    """Return what can be done in Brief; `brief` gives the stage, and makes it if need be."""
    return [
        Command(id="brief.draft", menu="Brief", title=tr("First draft from an idea…"),
                keys="Ctrl+Shift+I", run=lambda: brief().open_draft(),
                keywords="generate start new"),
        Command(id="brief.beside", menu="View", title=tr("Picture beside the page"), keys="F7",
                run=lambda: brief().open_beside(),
                keywords="board prototype screenshot measure overlay"),
        *showing("Brief", PARTS, lambda name: brief().show_part(name))]
