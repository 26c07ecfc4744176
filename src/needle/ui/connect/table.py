"""The threads of a form as a table, for those who prefer it."""

from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem

from needle.core.edit.forms import wire
from needle.core.edit.threads import Wanted, route_faults
from needle.core.values.form import FieldRoute, Form, NoticeRoute
from needle.core.values.ids import Id
from needle.ui.connect.described import ServiceReader
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["ThreadTable"]


class ThreadTable(QTableWidget):
    """One line for each field of each service: what fills it, and what is wrong."""

    def __init__(self, session: Session, reader: ServiceReader) -> None:
        super().__init__(0, 4)
        self.setTabKeyNavigation(False)
        self._session = session
        self._reader = reader
        self._shown: object = None
        self.setAccessibleName(tr("Threads as a table"))
        self.setHorizontalHeaderLabels([tr("Service"), tr("Its field"), tr("Filled by"),
                                        tr("State")])
        self.setShowGrid(False)
        rows, header = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None and header is not None
        rows.hide()
        rows.setDefaultSectionSize(32)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)

    def show_form(self, form: Form | None) -> None:
        """Show a form's threads."""
        lines = self._lines(form) if form else []
        state = (form, lines)
        if state == self._shown or form is None:
            return
        self._shown = state
        self.setRowCount(len(lines))
        sources = {"": "nothing"} | {field.id: field.label for field in form.fields}
        for number, (route, service, key, source, state_words) in enumerate(lines):
            for column, words in ((0, service), (1, key), (3, state_words)):
                self.setItem(number, column, QTableWidgetItem(words))
            if not key:
                self.setItem(number, 2, QTableWidgetItem(tr("the whole lead")))
                self.removeCellWidget(number, 2)
                continue
            choice = ChoiceEdit(tr("{key} of {service} is filled by", key=key, service=service),
                                sources, inherit=False)
            choice.show_value(source)
            choice.chosen.connect(lambda chosen, r=route, k=key: self._session.edit(
                tr("thread"), lambda site: wire(site, form.id, r, k, str(chosen))))
            self.setCellWidget(number, 2, choice)

    def _lines(self, form: Form) -> list[tuple[Id, str, str, Id, str]]:
        lines: list[tuple[Id, str, str, Id, str]] = []
        for route in form.routes:
            service = self._session.site.service(route.service)
            name = service.name if service else tr("A service that is gone")
            if isinstance(route, NoticeRoute):
                lines.append((route.id, name, "", "", tr("notice to {to}", to=route.to)))
                continue
            wanted = self._reader.wanted(service, route.target)
            faults = route_faults(form, route, wanted)
            known = list(wanted or ())
            names = {want.key for want in known}
            every = [*known, *(Wanted(key) for key in route.fields if key not in names)]
            shown = f"{name} › {route.target_name}" if route.target_name else name
            lines.extend((route.id, shown, want.key, route.fields.get(want.key, ""),
                          faults.get(want.key, "required" if want.required else ""))
                         for want in every)
            if isinstance(route, FieldRoute) and not every:
                lines.append((route.id, shown, "", "", tr("no field yet")))
        return lines
