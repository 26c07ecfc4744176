"""Going through what a first draft made up, and confirming it."""

from needle.core.edit.invented import confirm, confirm_page, placeholders
from needle.core.site.tree import walk
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["ConfirmCommands"]


class ConfirmCommands:
    """Commands for words and pictures that wait to be confirmed."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def commands(self) -> list[Command]:
        """Return the commands."""
        return [
            Command(id="invented.next", menu="Edit", title=tr("Go to the next invented thing"),
                    keys="F9", run=self.go_on, keywords="placeholder draft",
                    unless=self._nothing_invented),
            Command(id="invented.confirm", menu="Edit", title=tr("Confirm what is chosen"),
                    keys="Ctrl+F9", run=self.confirm_chosen, keywords="placeholder invented draft",
                    unless=self._nothing_chosen),
            Command(id="invented.page", menu="Edit", title=tr("Confirm everything on this page"),
                    run=self.confirm_page, keywords="placeholder invented draft",
                    unless=self._nothing_on_page),
        ]

    def _nothing_invented(self) -> str:
        return "" if any(one.node for one in placeholders(self._session.site)) else (
            tr("Nothing here is invented any more."))

    def _nothing_chosen(self) -> str:
        return "" if self._session.chosen else tr("Choose what is right, then confirm it.")

    def _nothing_on_page(self) -> str:
        page = self._session.page
        return "" if any(one.page is page for one in placeholders(self._session.site)) else (
            tr("Nothing on this page is invented."))

    def go_on(self) -> None:
        """Choose the next item with invented words, on this page first."""
        session = self._session
        nodes = [one.node for one in placeholders(session.site) if one.node]
        if not nodes:
            session.said.emit(tr("Nothing here is invented any more."), False)
            return
        order = [node.id for node in session.variant.nodes()]
        after = order[order.index(session.selection) + 1:] if session.selection in order else order
        here = [node for node in after if node in set(nodes)]
        session.go_to(here[0] if here else next((n for n in nodes if n not in order), nodes[0]))

    def confirm_chosen(self) -> None:
        """Confirm the words and pictures of the chosen parts, and of all in them."""
        session = self._session
        ids = [inner.id for chosen in session.chosen if (node := session.node(chosen))
               for inner in walk(node)]
        if not ids:
            session.said.emit(tr("Choose what is right, then confirm it."), True)
            return
        session.edit(tr("confirm words"), lambda site: confirm(site, ids))
        self._tell()

    def confirm_page(self) -> None:
        """Confirm everything on the page that is shown."""
        page = self._session.page.id
        self._session.edit(tr("confirm page"), lambda site: confirm_page(site, page))
        self._tell()

    def _tell(self) -> None:
        left = sum(1 for _ in placeholders(self._session.site))
        self._session.said.emit(tr("Confirmed. {left} invented things are left on the site.",
                                   left=left)
                                if left else tr("Confirmed. Nothing is invented any more."), False)
