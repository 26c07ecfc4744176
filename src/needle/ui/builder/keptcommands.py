"""Commands on sections that are kept: as a copy, or linked so that one edit reaches every page."""

from PyQt6.QtWidgets import QInputDialog, QWidget

from needle.core.edit.linked import keep_section, linked_uses, unlink, update_kept
from needle.core.site.tree import Section
from needle.core.values.counting import counted
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["KeptCommands"]


class KeptCommands:
    """What can be done with the section that is chosen, or that holds what is chosen."""

    def __init__(self, session: Session, window: QWidget) -> None:
        self._session = session
        self._window = window

    def commands(self) -> list[Command]:
        """Return what can be done with kept sections."""
        return [
            Command(id="kept.copy", menu="Insert", title=tr("Keep this section as a copy…"),
                    keywords="save own reuse", unless=self._in_no_section,
                    run=lambda: self._keep(False)),
            Command(id="kept.link", menu="Insert", title=tr("Keep this section linked…"),
                    keywords="save own reuse everywhere", unless=self._in_no_section,
                    run=lambda: self._keep(True)),
            Command(id="kept.update", menu="Insert",
                    title=tr("Update a kept copy from this section…"),
                    unless=self._no_copy_kept, run=self._update_kept),
            Command(id="kept.unlink", menu="Insert", title=tr("Unlink this section"),
                    unless=self._not_linked,
                    run=self._unlink),
            Command(id="kept.uses", menu="Insert", title=tr("Where this section is used"),
                    unless=self._not_linked,
                    run=self._tell_uses),
        ]

    def section(self) -> Section | None:
        """Return the section that is chosen, or that holds what is chosen."""
        path = self._session.path(self._session.selection)
        return path[0] if path and isinstance(path[0], Section) else None

    def _in_no_section(self) -> str:
        return "" if self.section() is not None else (
            tr("Choose a section, or something in one, first."))

    def _not_linked(self) -> str:
        section = self.section()
        return "" if section and section.linked else tr("Choose a section that is linked first.")

    def _no_copy_kept(self) -> str:
        return self._in_no_section() or (
            "" if any(not kept.linked for kept in self._session.site.kept)
            else tr("No section is kept as a copy yet. Keep one first."))

    def _keep(self, linked: bool) -> None:
        section = self.section()
        if section is None:
            return
        name, taken = QInputDialog.getText(
            self._window, tr("Keep this section"),
            tr("Name it. One edit will reach every page that has it.")
            if linked else tr("Name it"), text=section.name)
        if taken and self._session.edit(
                tr("keep section"), lambda site: keep_section(site, section.id, name, linked)[0]):
            self._session.said.emit(tr("“{name}” is kept. Shift+Ins puts it into other pages.",
                                       name=name),
                                    False)

    def _update_kept(self) -> None:
        section = self.section()
        copies = {kept.name: kept.id for kept in self._session.site.kept if not kept.linked}
        if section is None or not copies:
            self._session.said.emit(tr("No section is kept as a copy yet. Keep one first."), True)
            return
        name, taken = QInputDialog.getItem(self._window, tr("Update a kept copy"), tr("Which one?"),
                                           list(copies), 0, False)
        if taken:
            self._session.edit(tr("update kept section"),
                               lambda site: update_kept(site, copies[name], section.id))

    def _unlink(self) -> None:
        section = self.section()
        if section is not None:
            self._session.edit(tr("unlink section"), lambda site: unlink(site, section.id))

    def _tell_uses(self) -> None:
        section = self.section()
        if section is not None:
            uses = linked_uses(self._session.site, section.linked)
            names = ", ".join(use.name for use in uses)
            self._session.said.emit(
                tr("This section is linked on {count}: {names}.",
                   count=counted(len(uses), "page"), names=names), False)
