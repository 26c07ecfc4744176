"""A server over SFTP: a link is switched where it can be, else pages go one by one.

The host key is pinned when the target is first tried; another one is refused, never asked away.
"""

import contextlib
import posixpath
import secrets
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

import asyncssh
from anyio.from_thread import BlockingPortal, start_blocking_portal

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["Server", "SftpPlace"]

T = TypeVar("T")
_WAIT_S = 20
_LARGEST = 50_000_000


@dataclass(frozen=True)
class Server:
    """How a server is reached.

    Attributes:
        place: Its name, with its port if that is not 22: "web.example:2222".
        folder: Where the site stands on it.
        key_file: A private key; empty for an agent's or a password.
        pinned: The fingerprint of its host key; empty to take whatever it shows, once.
        files_alone: Pages are replaced one by one, whatever it could.
    """

    place: str
    folder: str
    user: str
    password: str = ""
    key_file: str = ""
    pinned: str = ""
    files_alone: bool = False


class _Pinning(asyncssh.SSHClient):
    """Takes the host key that is pinned, and no other; remembers which one was shown."""

    def __init__(self, pinned: str) -> None:
        self._pinned = pinned
        self.shown = ""

    def validate_host_public_key(self, host: str, addr: str, port: int,
                                 key: asyncssh.SSHKey) -> bool:
        self.shown = key.get_fingerprint("sha256")
        return not self._pinned or self.shown == self._pinned


class SftpPlace:
    """A folder on a server.

    Attributes:
        fingerprint: That of the host key that the server showed.
    """

    threads = 6

    def __init__(self, server: Server, name: str) -> None:
        """Sign in.

        Raises:
            PlaceError: The server is away, refuses, or is another than before.
        """
        self.name = name
        self._server = server
        self._closing = contextlib.ExitStack()
        self._portal: BlockingPortal = self._closing.enter_context(start_blocking_portal())
        try:
            self._sftp = self._portal.call(self._connect)
            self._root = posixpath.normpath(server.folder or ".")
            links = not server.files_alone and self._run(self._can_link)
            self.switching: Switching = "folder" if links else "files"
        except BaseException:
            self._closing.close()
            raise
        beside = posixpath.join(posixpath.dirname(self._root),
                                f".{posixpath.basename(self._root)}.releases")
        self._beside = beside
        self._next = posixpath.join(beside, f"r-{secrets.token_hex(6)}")

    async def _connect(self) -> asyncssh.SFTPClient:
        server = self._server
        host, _, port = server.place.partition(":")
        client = _Pinning(server.pinned)
        keys = [str(Path(server.key_file).expanduser())] if server.key_file else ()
        try:
            made = await asyncssh.connect(
                host, int(port or 22), username=server.user, config=(),
                password=server.password or None, client_keys=keys or (),
                known_hosts=lambda *_: ([], [], []), client_factory=lambda: client,
                connect_timeout=_WAIT_S, login_timeout=_WAIT_S, keepalive_interval=10)
            self.fingerprint = client.shown
            self._closing.callback(self._portal.call, self._end, made)
            return await made.start_sftp_client()
        except asyncssh.HostKeyNotVerifiable as error:
            raise PlaceError("target-host-key", target=self.name, shown=client.shown or "?",
                             pinned=server.pinned) from error
        except asyncssh.PermissionDenied as error:
            raise PlaceError("target-sign-in", target=self.name, user=server.user) from error
        except (OSError, ValueError, asyncssh.Error, TimeoutError) as error:
            raise PlaceError("target-away", target=self.name, place=server.place,
                             why=_why(error)) from error

    @staticmethod
    async def _end(made: asyncssh.SSHClientConnection) -> None:
        made.close()
        with contextlib.suppress(Exception):
            await made.wait_closed()

    async def _can_link(self) -> bool:
        """Whether the folder is a link of ours or not there yet, and the server can switch one."""
        try:
            facts = await self._sftp.lstat(self._root)
        except asyncssh.SFTPNoSuchFile:
            return await self._links_work()
        if facts.type != asyncssh.FILEXFER_TYPE_SYMLINK:
            return False
        leads = str(await self._sftp.realpath(self._root))
        return f"/.{posixpath.basename(self._root)}.releases/" in leads

    async def _links_work(self) -> bool:
        one = posixpath.join(posixpath.dirname(self._root), f".needle-{secrets.token_hex(4)}")
        try:
            await self._sftp.symlink("nowhere", one)
            await self._sftp.posix_rename(one, f"{one}-2")
            await self._sftp.remove(f"{one}-2")
        except asyncssh.Error:
            with contextlib.suppress(asyncssh.Error):
                await self._sftp.remove(one)
            return False
        return True

    def _run(self, work: Callable[..., Awaitable[T]], *given: Any) -> T:
        try:
            return self._portal.call(work, *given)
        except asyncssh.SFTPPermissionDenied as error:
            raise PlaceError("target-refused", target=self.name,
                             why="permission denied") from error
        except asyncssh.SFTPFailure as error:  # As a disk that is full.
            raise PlaceError("target-refused", target=self.name, why=_why(error)) from error
        except (OSError, asyncssh.Error) as error:
            raise PlaceError("target-away", target=self.name, place=self._server.place,
                             why=_why(error)) from error

    def _at(self, path: str) -> str:
        head, _, rest = path.partition("/")
        if self.switching == "files":
            return posixpath.join(self._root, path)
        if head == "assets":
            return posixpath.join(self._beside, "assets", rest)
        return posixpath.join(self._next, path)

    def get(self, path: str) -> bytes | None:
        """As every place."""
        return self._run(self._get, posixpath.join(self._root, path))

    async def _get(self, at: str) -> bytes | None:
        try:
            async with self._sftp.open(at, "rb") as file:
                data = await file.read(_LARGEST)
        except (asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath):
            return None
        return data if isinstance(data, bytes) else data.encode()

    def size(self, path: str) -> int | None:
        """As every place."""
        return self._run(self._size, self._at(path))

    async def _size(self, at: str) -> int | None:
        try:
            return (await self._sftp.stat(at)).size
        except (asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath):
            return None

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        self._run(self._put, self._at(path), data)

    async def _put(self, at: str, data: bytes) -> None:
        await self._sftp.makedirs(posixpath.dirname(at) or ".", exist_ok=True)
        part = posixpath.join(posixpath.dirname(at), f".new-{posixpath.basename(at)}")
        async with self._sftp.open(part, "wb") as file:
            await file.write(data)
        await self._replace(part, at)

    async def _replace(self, part: str, at: str) -> None:
        """Put a file in the place of another, in one step where the server knows one."""
        try:
            await self._sftp.posix_rename(part, at)
        except asyncssh.SFTPOpUnsupported:
            with contextlib.suppress(asyncssh.SFTPNoSuchFile):
                await self._sftp.remove(at)
            await self._sftp.rename(part, at)

    def remove(self, path: str) -> None:
        """As every place; pages of before went with their release."""
        if self.switching == "files" or path.startswith("assets/"):
            self._run(self._remove, self._at(path))

    async def _remove(self, at: str) -> None:
        with contextlib.suppress(asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath):
            await self._sftp.remove(at)
        folder = posixpath.dirname(at)
        if folder != self._root and posixpath.basename(folder) != "assets":
            with contextlib.suppress(asyncssh.Error):  # Something else stands in it.
                await self._sftp.rmdir(folder)

    def switch(self, manifest: bytes) -> None:
        """As every place."""
        self.put(MANIFEST, manifest)
        if self.switching == "folder":
            self._run(self._link)

    async def _link(self) -> None:
        await self._sftp.makedirs(posixpath.join(self._beside, "assets"), exist_ok=True)
        await self._sftp.symlink("../assets", posixpath.join(self._next, "assets"))
        before = ""
        with contextlib.suppress(asyncssh.SFTPNoSuchFile):
            before = posixpath.basename(str(await self._sftp.realpath(self._root)))
        link = posixpath.join(posixpath.dirname(self._root),
                              f".{posixpath.basename(self._root)}.{secrets.token_hex(6)}")
        await self._sftp.symlink(
            posixpath.join(posixpath.basename(self._beside), posixpath.basename(self._next)), link)
        await self._sftp.posix_rename(link, self._root)
        for name in await self._sftp.listdir(self._beside):
            if str(name).startswith("r-") and name not in (before, posixpath.basename(self._next)):
                await self._sftp.rmtree(posixpath.join(self._beside, str(name)),
                                        ignore_errors=True)

    def close(self) -> None:
        """As every place."""
        self._closing.close()


def _why(error: BaseException) -> str:
    words = str(getattr(error, "strerror", "") or getattr(error, "reason", "") or error)
    return words[:200] or type(error).__name__
