"""Keeping a project on disk while it is worked on: in a thread, with versions, and again
after a fault."""

import contextlib
import logging
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.store.project import Project, ProjectError
from needle.store.versions import Versions, VersionsError, begin_again
from needle.ui.language import tr
from needle.ui.timers import once

__all__ = ["Saving", "Written"]

_log = logging.getLogger(__name__)
_AFTER_MS = 500
_AGAIN_MS = 4000


class Written(NamedTuple):
    """What became of a save.

    Attributes:
        fault: Why the site is not on disk, in words; empty if it is.
        note: What else went wrong, in words; the site is on disk all the same.
    """

    fault: str = ""
    note: str = ""


class _Save(QRunnable):
    """Writes a site in a thread; values never change, so the window goes on meanwhile."""

    def __init__(self, project: Project, site: Site, steps: Sequence[tuple[str, Id]],
                 done: Callable[[Written], None]) -> None:
        super().__init__()
        self._project = project
        self._site = site
        self._steps = steps
        self._done = done

    def run(self) -> None:
        self._done(_write(self._project, self._site, self._steps))


def _write(project: Project, site: Site, steps: Sequence[tuple[str, Id]]) -> Written:
    """Save a site, and keep it as a version if that can be done.

    Args:
        steps: What was done since the last save, and on which page.
    """
    before = project.saved
    try:
        project.save(site)
    except ProjectError as error:
        return Written(str(error))
    except Exception as error:  # Whatever it is, saving must be tried again.
        _log.exception("saving failed")
        return Written(tr("The project could not be saved ({name}: {error}). It is kept in this "
                          "window and saved again in a moment.",
                          name=type(error).__name__, error=error))
    try:
        return Written(note=_keep_version(project.folder, before, site, steps) if steps else "")
    except Exception as error:  # The site is on disk, so nothing else may seem to be lost.
        _log.exception("keeping a version failed")
        return Written(note=tr("The site is saved, but this version of it was not kept: {error}",
                               error=error))


def _keep_version(folder: Path, before: Site, site: Site, steps: Sequence[tuple[str, Id]]) -> str:
    """Keep a version; return what to tell the person, or nothing."""
    try:
        _record(folder, before, site, steps)
    except VersionsError as error:
        if not error.damaged:
            raise
        note = begin_again(folder)
        _record(folder, before, site, steps)
        return note
    return ""


def _record(folder: Path, before: Site, site: Site, steps: Sequence[tuple[str, Id]]) -> None:
    with contextlib.closing(Versions(folder)) as versions:
        if not versions.count():
            versions.record(before, "as it was found", steps[0][1])
        words = list(dict.fromkeys(words for words, _ in steps))
        versions.record(site, "; ".join(words[-4:]), steps[-1][1])


class Saving(QObject):
    """Saves a little after each step, and again until it is done.

    Signals:
        saved: Saving ended (a fault in words, or empty).
        said: Something to tell the person (the words, whether it is a fault).

    Attributes:
        at: When all was on disk last, in seconds since 1970.
        fault: Why it is not, in words; empty if it is.
    """

    saved = pyqtSignal(str)
    said = pyqtSignal(str, bool)
    _written = pyqtSignal(object)

    def __init__(self, project: Project, site: Callable[[], Site], parent: QObject) -> None:
        """Begin with what is on disk.

        Args:
            site: Returns the site as it is now.
        """
        super().__init__(parent)
        self._project = project
        self._site = site
        self.at = time.time()
        self.fault = ""
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._writing = False
        self._steps: list[tuple[str, Id]] = []
        self._on_their_way: list[tuple[str, Id]] = []
        self._timer = once(self)
        self._timer.timeout.connect(self._save)
        self._written.connect(self._after_save)

    @property
    def unsaved(self) -> bool:
        """Whether something is not on disk yet."""
        return self._site() is not self._project.saved

    def note(self, step: str, page: Id) -> None:
        """Keep what was done, and on which page, for the next version."""
        self._steps.append((step, page))

    def soon(self) -> None:
        """Save after a moment, unless that is due already."""
        if not self._timer.isActive():
            self._timer.start(_AFTER_MS)

    def _save(self) -> None:
        if self._writing or not self.unsaved:
            return
        self._writing = True
        self._on_their_way, self._steps = self._steps, []
        self._pool.start(_Save(self._project, self._site(), self._on_their_way,
                               self._written.emit))

    def _after_save(self, written: Written) -> None:
        self._writing = False
        if written.fault:  # What was done is still to be kept as a version.
            self._steps = [*self._on_their_way, *self._steps]
        self._tell(written)
        if self.unsaved:
            self._timer.start(_AGAIN_MS if written.fault else _AFTER_MS)

    def _tell(self, written: Written) -> None:
        if not written.fault:
            self.at = time.time()
        self.fault = written.fault
        self.saved.emit(written.fault)
        if written.note:
            self.said.emit(written.note, True)

    def settle(self) -> None:
        """Have everything on disk now, versions too."""
        self._pool.waitForDone()
        if self.unsaved:
            written = _write(self._project, self._site(), self._steps)
            if not written.fault:
                self._steps = []
            self._tell(written)

    def save_now(self) -> None:
        """Save without waiting, and say what became of it."""
        self._timer.stop()
        self.settle()
        if self.unsaved:
            self._timer.start(_AGAIN_MS)
        else:
            at = time.strftime("%H:%M:%S", time.localtime(self.at))
            self.said.emit(tr("Everything is saved in {folder} (last at {at}).",
                              folder=self._project.folder, at=at), False)

    def close(self) -> str:
        """Write what is not on disk yet and let go of the project; return a fault in words."""
        self._timer.stop()
        self._pool.waitForDone()
        fault = _write(self._project, self._site(), self._steps).fault if self.unsaved else ""
        self._project.close()
        return fault
