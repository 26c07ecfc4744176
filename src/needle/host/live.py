"""What is live, as the host reads it: by index, and read again only when another is switched to."""

import logging
from pathlib import Path

from needle.publish.release import Live, Release
from needle.publish.releases import LiveError, Releases, live_folder
from needle.store.files import Stamp, stamp_of
from needle.store.paths import checked_file

__all__ = ["LiveReader"]

_log = logging.getLogger(__name__)


class LiveReader:
    """Reads the release of a project that is live.

    While the list of it is broken, what it held before is served.

    Attributes:
        fault: What is wrong with it, in words; empty if nothing is.
    """

    def __init__(self, project: Path) -> None:
        self._releases = Releases(project)
        self._folder = live_folder(project)
        self._stamp: Stamp | None = None
        self._known: Release | None = None
        # Files of earlier releases: a page that was fetched a moment ago still asks for them.
        self._earlier: dict[str, str] = {}
        self.fault = ""

    def release(self) -> Release | None:
        """Return the release that is live; `None` if nothing is."""
        try:
            stamp = stamp_of(self._folder / "live.json")
        except OSError:
            self._stamp, self._known, self.fault = None, None, ""
            return None
        if self._stamp != stamp:
            self._stamp = stamp
            try:
                self._known, self.fault = self._releases.current(), ""
                self._earlier = {}
            except LiveError as error:
                self.fault = str(error)
                _log.error("the list of live pages is broken; what was live before is served")
        return self._known

    def live(self) -> Live | None:
        """Return what is live of the site; `None` if nothing is."""
        release = self.release()
        return release.live if release else None

    def file(self, path: str) -> Path:
        """Return where a file stands that visitors fetch.

        Raises:
            OSError: It is in no release that is kept, or is gone.
        """
        release = self.release()
        held = release.files.get(path) if release else None
        digest = held.digest if held else self._earlier_digest(path)
        return checked_file(self._folder, self._releases.path_of(digest))

    def _earlier_digest(self, path: str) -> str:
        if not path.startswith("assets/"):
            raise FileNotFoundError(path)
        if not self._earlier:
            for release in self._releases.every():
                for known, file in release.files.items():
                    self._earlier.setdefault(known, file.digest)
        if path not in self._earlier:
            raise FileNotFoundError(path)
        return self._earlier[path]
