"""Telling Needle of a place to send to, and trying it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.targets import keep_target
from needle.core.messages.message import RefusedError
from needle.core.site.site import Site
from needle.core.values.targets import TARGET_KINDS, Target
from needle.practice.faults import read_fault, set_fault
from needle.publish.refusing import PublishError
from needle.publish.targets.opening import try_target
from needle.publish.targets.place import Tried
from needle.running.children import ChildError
from needle.ui.cards import button, label, repaint_role
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.waiting import Stopped, one_apart

__all__ = ["PracticePlace", "TargetDialog"]

# The fields of each kind: what each is called, and an example.
_PLACE: Mapping[str, tuple[str, str]] = {
    "folder": (tr("Folder"), "/srv/www/quillmoor"),
    "zip": (tr("Zip file"), "~/quillmoor.zip"),
    "sftp": (tr("Server"), "web.quillmoor.example"),
    "webdav": (tr("Address"), "https://dav.quillmoor.example/www"),
    "bucket": (tr("Address of the service"), "https://s3.quillmoor.example"),
    "git": (tr("Repository"), "git@git.quillmoor.example:pages.git")}
_FIELDS: Mapping[str, Mapping[str, tuple[str, str]]] = {
    "folder": {}, "zip": {},
    "sftp": {"folder": (tr("Folder on it"), "/var/www/quillmoor"),
             "user": (tr("User"), "quillmoor"),
             "key_file": (tr("Private key"), "~/.ssh/id_ed25519")},
    "webdav": {"user": (tr("User"), "quillmoor")},
    "bucket": {"bucket": (tr("Bucket"), "quillmoor-pages"),
               "folder": (tr("Folder in it"), ""), "region": (tr("Region"), "eu-west-1"),
               "user": (tr("Id of the key"), "")},
    "git": {"branch": (tr("Branch"), "main")}}
_SECRET: Mapping[str, str] = {"sftp": tr("Password"), "webdav": tr("Password"),
                              "bucket": tr("Secret of the key")}


@dataclass(frozen=True, slots=True)
class PracticePlace:
    """Where the practice server is, and what it lets in."""

    address: str
    user: str
    password: str
    folder: Path


class TargetDialog(QDialog):
    """Asks for a target of one kind.

    Attributes:
        target: What was told, once it was accepted.
        password: The password, which is never in the project.
        replaces: Whether what is not Needle's may be replaced there.
    """

    def __init__(self, site: Site, target: Target, password: str, replaces: bool,
                 parent: QWidget | None, practice: Callable[[], PracticePlace] | None = None,
                 ) -> None:
        """Ask.

        Args:
            practice: Starts the practice server and tells where it is; `None` where none can run.
        """
        super().__init__(parent)
        self._site = site
        self._practice = practice
        self._practice_folder: Path | None = None
        self.target, self.password, self.replaces = target, password, replaces
        self._tried: Tried | None = None
        self.setWindowTitle(tr("{kind} as a target", kind=TARGET_KINDS[target.kind]))
        self.setMinimumWidth(480)
        self._lines: dict[str, QLineEdit] = {}
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        self._add_line(form, "name", tr("Name"), "", target.name)
        place, example = _PLACE[target.kind]
        self._add_line(form, "place", place, example, target.place)
        for name, (words, example) in _FIELDS[target.kind].items():
            self._add_line(form, name, words, example, getattr(target, name))
        if target.kind in _SECRET:
            self._add_line(form, "", _SECRET[target.kind], "", password)
            self._lines[""].setEchoMode(QLineEdit.EchoMode.Password)
        self._together = self._tick(tr("Send here with each send"), target.together)
        self._hosted = self._tick(
            tr("A Needle host answers beside the pages: visits and leads go there"), target.hosted)
        self._replaces = self._tick(
            tr("What stands there and is not Needle's may be replaced"), replaces)
        self._said = label("", "small", wrap=True)
        self._lay_out(form)

    def _lay_out(self, form: QFormLayout) -> None:
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        for tick in (self._together, self._hosted, self._replaces):
            column.addWidget(tick)
        if self.target.kind == "sftp" and self._practice is not None:
            column.addLayout(self._practice_line())
        column.addWidget(self._said)
        foot = QHBoxLayout()
        self.try_button = button(tr("Try it"), self.try_it)
        foot.addWidget(self.try_button)
        foot.addStretch()
        foot.addWidget(button(tr("Cancel"), self.reject))
        self.keep_button = button(tr("Keep it"), self.keep, main=True)
        self.keep_button.setDefault(True)
        foot.addWidget(self.keep_button)
        column.addLayout(foot)

    def _practice_line(self) -> QHBoxLayout:
        from needle.practice.webserver import FAULTS  # Heavy, and seldom needed.

        line = QHBoxLayout()
        self.fault = ChoiceEdit(tr("What the practice server does"), FAULTS, inherit=False)
        self.fault.chosen.connect(self._set_fault)
        self.fault.setEnabled(False)
        line.addWidget(button(tr("Practice server"), self.use_practice))
        line.addWidget(self.fault, 1)
        return line

    def use_practice(self) -> None:
        """Start the practice server, and fill in where it is."""
        from needle.practice.webserver import FAULTS

        assert self._practice is not None
        try:
            place = self._practice()
        except ChildError as error:
            self._say(tr("The practice server did not start: {error}", error=error), True)
            return
        for name, words in (("place", place.address), ("user", place.user), ("", place.password),
                            ("folder", "/site")):
            self._lines[name].setText(words)
        self._practice_folder = place.folder
        self.fault.setEnabled(True)
        self.fault.show_value(read_fault(place.folder, FAULTS))

    def _set_fault(self, fault: object) -> None:
        if self._practice_folder is not None:
            set_fault(self._practice_folder, str(fault))

    def _add_line(self, form: QFormLayout, name: str, words: str, example: str, value: str,
                  ) -> None:
        line = QLineEdit(value)
        line.setAccessibleName(words)
        line.setPlaceholderText(example)
        self._lines[name] = line
        if name == "place" and self.target.kind in ("folder", "zip"):
            beside = QHBoxLayout()
            beside.addWidget(line, 1)
            beside.addWidget(button(tr("Choose…"), self._choose))
            form.addRow(words, beside)
        else:
            form.addRow(words, line)

    def _tick(self, words: str, on: bool) -> QCheckBox:
        made = QCheckBox(words)
        made.setChecked(on)
        return made

    def _choose(self) -> None:
        if self.target.kind == "zip":
            path, _ = QFileDialog.getSaveFileName(self, tr("Zip file"), "", "*.zip")
        else:
            path = QFileDialog.getExistingDirectory(self, tr("Folder"))
        if path:
            self._lines["place"].setText(path)

    def _told(self) -> Target:
        """Return what stands in the lines.

        Raises:
            RefusedError: It cannot be; the message says why.
        """
        given = {name: line.text() for name, line in self._lines.items() if name}
        target = msgspec.structs.replace(
            self.target, **given, together=self._together.isChecked(),
            hosted=self._hosted.isChecked())
        # Another server has another key, which nobody has seen yet.
        if target.place != self.target.place:
            target = msgspec.structs.replace(target, pinned="")
        kept = keep_target(self._site, target)
        return kept.target(target.id) or target

    def _say(self, words: str, fault: bool) -> None:
        self._said.setText(words)
        repaint_role(self._said, "fault" if fault else "good")

    def try_it(self) -> bool:
        """Put a small file there and take it away, and say how it went."""
        try:
            target, password = self._told(), self._password()
            tried = one_apart(self, tr("Trying {name}…", name=target.name),
                              lambda: try_target(self._site.id, target, password))
        except (RefusedError, Stopped) as error:
            self._say(str(error), True)
            return False
        if tried.pinned and not target.pinned:
            self.target = msgspec.structs.replace(target, pinned=tried.pinned)
        self._tried = tried
        shown = tr(" It shows the host key {key}: see that it is the one its provider names.",
                   key=tried.pinned) if tried.pinned and not target.pinned else ""
        self._say(tr("It works. {words}", words=tried.words) + shown, False)
        return True

    def _password(self) -> str:
        return self._lines[""].text() if "" in self._lines else ""

    def keep(self) -> None:
        """Keep what was told; a server is tried first, so that its host key is known."""
        try:
            target = self._told()
            if target.kind == "sftp" and not target.pinned and not self.try_it():
                return
            self.target = msgspec.structs.replace(target, pinned=self.target.pinned)
        except (RefusedError, PublishError) as error:
            self._say(str(error), True)
            return
        self.password, self.replaces = self._password(), self._replaces.isChecked()
        self.accept()
