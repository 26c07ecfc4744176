"""Outside code by its reach: the head, the end of the body, own CSS."""

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from needle.core.edit.pages import change_code
from needle.core.render.ownrules import css_faults
from needle.core.site.site import Code, Site
from needle.core.values.ids import Id
from needle.ui.builder.fields import CodeEdit
from needle.ui.cards import repaint_role
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["CodeDialog"]

_PARTS = (("head", tr("At the end of the head")), ("body", tr("At the end of the body")),
          ("css", tr("Own CSS, after all of Needle's")))


class CodeDialog(QDialog):
    """Code for the site, for a folder of pages, or for this page. It never runs in the editor."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Outside code"))
        self._session = session
        self.reach = ChoiceEdit(tr("Reach"), {}, inherit=False)
        self._fill_reach()
        self.reach.setCurrentIndex(self.reach.count() - 1)
        self.reach.chosen.connect(lambda _: self.refresh())
        self.parts: dict[str, CodeEdit] = {}
        self.fault = Words()
        self.fault.setWordWrap(True)
        column = QVBoxLayout(self)
        head = QHBoxLayout()
        head.addWidget(Words(tr("For")))
        head.addWidget(self.reach, 1)
        column.addLayout(head)
        note = Words(tr("Visitors get this as it stands here; the editor and its pictures never "
                        "run it. F5 walks through with it."))
        note.setProperty("role", "dim")
        note.setWordWrap(True)
        column.addWidget(note)
        for name, words in _PARTS:
            column.addWidget(Words(words))
            edit = CodeEdit(words)
            edit.setMinimumHeight(90)
            edit.setMaximumHeight(16_777_215)
            edit.kept.connect(lambda code, n=name: self._take(n, code))
            self.parts[name] = edit
            column.addWidget(edit, 1)
        self.parts["css"].textChanged.connect(self._check)
        column.addWidget(self.fault)
        self.resize(640, 560)
        self.refresh()

    def _fill_reach(self) -> None:
        site, page = self._session.site, self._session.page
        self.reach.addItem(tr("Every page of the site"), ("site", ""))
        folder = site.folder(page.folder)
        if folder is not None:
            self.reach.addItem(tr("Every page in “{name}”", name=folder.name),
                               ("folder", folder.id))
        self.reach.addItem(tr("Only “{name}”", name=page.name), ("page", page.id))

    def _code(self) -> Code:
        reach, target = self._where()
        site = self._session.site
        held = site if reach == "site" else site.folder(target) if reach == "folder" else \
            site.page(target)
        return held.code if held is not None else Code()

    def _where(self) -> tuple[str, Id]:
        reach, target = self.reach.currentData()
        return reach, target

    def refresh(self) -> None:
        """Show the code of the chosen reach."""
        code = self._code()
        for name, edit in self.parts.items():
            edit.show_code(getattr(code, name))
        self._check()

    def _check(self) -> None:
        faults = css_faults(self.parts["css"].toPlainText())
        self.fault.setText("\n".join(fault.words for fault in faults[:4]) + (
            tr("\nRules with a fault are left out until they are mended.") if faults else ""))
        repaint_role(self.fault, "fault" if faults else "good")
        self.fault.setVisible(bool(faults))

    def _take(self, name: str, code: str) -> None:
        reach, target = self._where()

        def how(site: Site) -> Site:
            return change_code(site, reach, target, **{name: code})  # type: ignore[arg-type]

        self._session.edit(tr("{name} code of {reach}", name=name, reach=reach), how)

    # Qt

    def done(self, result: int) -> None:
        for edit in self.findChildren(QPlainTextEdit):
            edit.clearFocus()
        super().done(result)
