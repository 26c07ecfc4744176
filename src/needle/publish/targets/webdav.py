"""A server over WebDAV (RFC 4918): each file is put aside and then moved to its place."""

import threading
from urllib.parse import quote, urlsplit

import httpx

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["WebdavPlace"]

_WAIT_S = 30
_LARGEST = 50_000_000


class WebdavPlace:
    """A folder on a server. Each page is replaced by itself, in one step."""

    switching: Switching = "files"
    threads = 4

    def __init__(self, address: str, user: str, password: str, name: str) -> None:
        """Get ready.

        Args:
            address: Of the folder, beginning with http:// or https://.

        Raises:
            PlaceError: It is no address of that kind.
        """
        self.name = name
        self._user = user or "a visitor"
        parts = urlsplit(address)
        if parts.scheme not in ("http", "https") or not parts.hostname:
            raise PlaceError("target-address", target=name, address=address[:200])
        self._base = address.rstrip("/")
        self._http = httpx.Client(auth=(user, password) if user else None, timeout=_WAIT_S,
                                  follow_redirects=False)
        self._made: set[str] = set()
        self._making = threading.Lock()

    def _ask(self, method: str, path: str, expected: tuple[int, ...], data: bytes | None = None,
             **headers: str) -> httpx.Response:
        try:
            answer = self._http.request(method, self._url(path), content=data, headers=headers)
        except (httpx.HTTPError, httpx.InvalidURL) as error:
            raise PlaceError("target-away", target=self.name, place=self._base,
                             why=str(error)[:200] or type(error).__name__) from error
        if answer.status_code in expected:
            return answer
        if answer.status_code in (401, 403):
            raise PlaceError("target-sign-in", target=self.name, user=self._user)
        raise PlaceError("target-answered", target=self.name, status=answer.status_code,
                         what=f"{method} {path}"[:120])

    def _url(self, path: str) -> str:
        return f"{self._base}/{quote(path)}" if path else f"{self._base}/"

    def get(self, path: str) -> bytes | None:
        """As every place."""
        answer = self._ask("GET", path, (200, 404, 409))
        if answer.status_code != 200:
            return None
        return answer.content[:_LARGEST]

    def size(self, path: str) -> int | None:
        """As every place."""
        # A length that is told only of an answer without gzip.
        answer = self._ask("HEAD", path, (200, 404, 409), None,
                           **{"Accept-Encoding": "identity"})
        told = answer.headers.get("Content-Length", "")
        if answer.status_code == 200 and not told.isdecimal():
            found = self.get(path)
            return None if found is None else len(found)
        return int(told) if answer.status_code == 200 else None

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        folder, _, file = path.rpartition("/")
        self._make(folder)
        part = f"{folder}/.new-{file}" if folder else f".new-{file}"
        self._ask("PUT", part, (200, 201, 204), data)
        self._ask("MOVE", part, (201, 204), Destination=self._url(path), Overwrite="T")

    def _make(self, folder: str) -> None:
        with self._making:
            for name in ("", folder) if folder else ("",):
                if name not in self._made:
                    self._ask("MKCOL", name, (201, 405, 301))
                    self._made.add(name)

    def remove(self, path: str) -> None:
        """As every place."""
        self._ask("DELETE", path, (200, 204, 404))

    def switch(self, manifest: bytes) -> None:
        """As every place."""
        self.put(MANIFEST, manifest)

    def close(self) -> None:
        """As every place."""
        self._http.close()
