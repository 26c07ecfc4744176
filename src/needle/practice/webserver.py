"""The practice web server: files come in over SFTP, from one user with a password.

Who comes in sees `FOLDER/www` alone, which is what visitors would get. The fault that is switched
on stands in `FOLDER/fault`.
"""

import argparse
import asyncio
import errno
import secrets
from collections.abc import Awaitable, Mapping
from pathlib import Path

import asyncssh

from needle.practice.faults import read_fault
from needle.running.addresses import read_address, write_address
from needle.running.serving import announce, end_with_parent

__all__ = ["FAULTS", "USER", "Files", "serve_files"]

USER = "practice"
FAULTS: Mapping[str, str] = {
    "none": "works", "cut": "cuts the line in the middle of a file", "full": "has no room left",
    "lies": "says that it took a file, and keeps half", "other": "shows another host key",
    "password": "lets nobody in", "files": "knows no links, so pages switch one by one"}
# How many bytes come through before the line is cut, and after how many a disk is full.
_CUT_AFTER, _ROOM = 20_000, 60_000


class _Door(asyncssh.SSHServer):
    def __init__(self, folder: Path, password: str) -> None:
        self._folder, self._password = folder, password

    def begin_auth(self, username: str) -> bool:
        return True

    def password_auth_supported(self) -> bool:
        return True

    def validate_password(self, username: str, password: str) -> bool:
        right = secrets.compare_digest(password.encode(), self._password.encode())
        return username == USER and right and read_fault(self._folder, FAULTS) != "password"


class Files(asyncssh.SFTPServer):
    """Takes files into a folder, and breaks as it is told to."""

    def __init__(self, channel: "asyncssh.SSHServerChannel[bytes]", folder: Path) -> None:
        super().__init__(channel, chroot=str(folder / "www").encode())
        self._link = channel.get_connection()
        self._fault = read_fault(folder, FAULTS)
        self._taken = 0

    def write(self, file_obj: object, offset: int, data: bytes) -> int | Awaitable[int]:
        self._taken += len(data)
        if self._fault == "cut" and self._taken > _CUT_AFTER:
            self._link.abort()
        if self._fault == "full" and self._taken > _ROOM:
            raise OSError(errno.ENOSPC, "No space left on device")
        if self._fault == "lies":
            super().write(file_obj, offset, data[: len(data) // 2])
            return len(data)
        return super().write(file_obj, offset, data)

    def symlink(self, oldpath: bytes, newpath: bytes) -> None:
        if self._fault == "files":
            raise asyncssh.SFTPOpUnsupported("no links")
        super().symlink(oldpath, newpath)


async def serve_files(folder: Path, password: str, port: int = 0) -> asyncssh.SSHAcceptor:
    """Serve a folder's `www` on 127.0.0.1; the host key is kept, so that it can be pinned."""
    (folder / "www").mkdir(parents=True, exist_ok=True)
    kept = folder / "host-key"
    if not kept.exists():
        kept.write_bytes(asyncssh.generate_private_key("ssh-ed25519").export_private_key())
        kept.chmod(0o600)
    own = asyncssh.read_private_key(str(kept))
    other = asyncssh.generate_private_key("ssh-ed25519")
    key = other if read_fault(folder, FAULTS) == "other" else own
    return await asyncssh.listen(
        "127.0.0.1", port, server_factory=lambda: _Door(folder, password),
        sftp_factory=lambda channel: Files(channel, folder), server_host_keys=[key])


async def _run(folder: Path, port: int, watched: bool) -> None:
    password = (read_address(folder) or {}).get("key") or secrets.token_urlsafe(12)
    server = await serve_files(folder, password, port)
    port, fault = server.get_port(), read_fault(folder, FAULTS)
    write_address(folder, url=f"127.0.0.1:{port}", key=password, user=USER)
    ended, loop = asyncio.Event(), asyncio.get_running_loop()

    def end() -> None:
        loop.call_soon_threadsafe(ended.set)

    if watched:
        end_with_parent(end)
    announce(port=port)
    while not ended.is_set():
        told = read_fault(folder, FAULTS)
        if "other" in (told, fault) and told != fault:  # The key is shown as a connection begins.
            server.close()
            await server.wait_closed()
            server = await serve_files(folder, password, port)
        fault = told
        try:
            await asyncio.wait_for(ended.wait(), 0.3)
        except TimeoutError:
            continue
    server.close()


def main() -> int:
    """Serve until told to stop."""
    parser = argparse.ArgumentParser(description="The practice web server, over SFTP.")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    asyncio.run(_run(asked.folder, asked.port, asked.watched))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
