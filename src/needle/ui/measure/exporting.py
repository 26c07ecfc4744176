"""Writing leads, and what was counted, to files, beside the window."""

import os
import tempfile
from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.leads.contacts import contact_cards
from needle.core.leads.export import csv_parts
from needle.core.site.site import Site
from needle.core.values.form import Role
from needle.core.values.ids import Id
from needle.store.files import write_atomically
from needle.store.results.book import Filter, Lead, list_leads
from needle.ui.language import tr

__all__ = ["Export", "FileExport", "export_cards"]

_CARD_FIELDS = {Role.NAME: "FN", Role.GIVEN: "GIVEN", Role.FAMILY: "FAMILY", Role.EMAIL: "EMAIL",
                Role.PHONE: "TEL", Role.COMPANY: "ORG"}


_Sheet = tuple[Sequence[str], Iterable[Sequence[str]]]


class FileExport(QRunnable):
    """Writes a file, whole or not at all."""

    class Said(QObject):
        """Tells the window how it went: words, and whether they are a fault."""

        told = pyqtSignal(str, bool)

    def __init__(self, write: Callable[[Path], object], path: Path, done: str) -> None:
        """Get ready.

        Args:
            write: Writes the file; called in the thread.
            done: What is said once it is written.
        """
        super().__init__()
        self.said = self.Said()
        self._write, self._path, self._done = write, path, done
        self.setAutoDelete(False)

    def begin(self) -> None:
        """Write in a thread of its own."""
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(self)

    def run(self) -> None:
        try:
            self._write(self._path)
        except OSError as error:
            self.said.told.emit(tr("{path} cannot be written: {strerror}.",
                                   path=self._path, strerror=error.strerror), True)
        except SQLAlchemyError as error:
            self.said.told.emit(tr("The results cannot be read: {name}.",
                                   name=type(error).__name__), True)
        else:
            self.said.told.emit(self._done, False)


class Export(FileExport):
    """Writes a table as CSV, a part at a time."""

    def __init__(self, sheet: Callable[[], _Sheet], path: Path, done: str) -> None:
        """Get ready.

        Args:
            sheet: Returns header and rows; called in the thread, where they are read.
            done: What is said once they are written.
        """
        super().__init__(lambda to: _write_sheet(sheet, to), path, done)


def _write_sheet(sheet: Callable[[], _Sheet], path: Path) -> None:
    handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".new-")
    try:
        with os.fdopen(handle, "w", encoding="utf-8-sig", newline="") as file:
            for part in csv_parts(*sheet()):
                file.write(part)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, 0o600)
        os.replace(temporary, path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def export_cards(engine: Engine, site: Site, of: Filter, path: Path) -> tuple[str, bool]:
    """Write leads as contacts, one for each e-mail; return words, and whether they are a fault."""
    roles = {field.id: field.role for form in site.forms for field in form.fields}
    people: dict[str, dict[str, str]] = {}
    before = 0
    while rows := list_leads(engine, of, 2000, before):
        before = rows[-1].id
        for lead in rows:
            people.setdefault(lead.email.casefold() or lead.key, _card(lead, roles))
    try:
        write_atomically(path, contact_cards(people.items()).encode(), 0o600)
    except OSError as error:
        return tr("{path} cannot be written: {strerror}.", path=path, strerror=error.strerror), True
    return tr("{count} contacts are in {path}.", count=len(people), path=path), False


def _card(lead: Lead, roles: Mapping[Id, Role]) -> dict[str, str]:
    card = {"EMAIL": lead.email}
    for field, _, answer in lead.answers:
        role = roles.get(field)
        if role in _CARD_FIELDS:
            card[_CARD_FIELDS[role]] = answer
    return {name: value for name, value in card.items() if value}
