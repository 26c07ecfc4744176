"""Places to send to, each over its real protocol, for tests: servers in this process."""

import contextlib
import getpass
import logging
import os
import socket
import subprocess
import tempfile
import threading
import time
import unittest
from collections.abc import Callable
from pathlib import Path

import asyncssh
import boto3
from cheroot import wsgi
from moto.server import ThreadedMotoServer
from wsgidav.fs_dav_provider import FilesystemProvider
from wsgidav.wsgidav_app import WsgiDAVApp

from needle.core.values.targets import Target
from tests.apart import serve_apart

__all__ = ["PASSWORD", "SSHD", "Ground", "bucket_ground", "dav_ground", "folder_ground",
           "git_ground", "link_ground", "openssh_ground", "sftp_ground"]

PASSWORD = "a secret of nine words"


class Ground:
    """Something that holds a site.

    Attributes:
        target: How Needle is told of it.
        files: Returns what a visitor can get there, by path.
    """

    def __init__(self, target: Target, files: Callable[[], dict[str, bytes]]) -> None:
        self.target = target
        self.files = files


def _below(folder: Path) -> dict[str, bytes]:
    # A link that is switched while one walks is what visitors see, too.
    root = folder.resolve()
    found = {}
    for path in root.rglob("*"):
        if path.is_file() and ".git" not in path.relative_to(root).parts:
            found[str(path.relative_to(root))] = path.read_bytes()
    assets = root / "assets"
    if assets.is_symlink():
        found |= {f"assets/{path.name}": path.read_bytes() for path in assets.resolve().iterdir()}
    return found


def folder_ground(case: unittest.TestCase) -> Ground:
    """A plain folder."""
    folder = Path(case.enterContext(tempfile.TemporaryDirectory())) / "site"
    folder.mkdir()
    return Ground(Target("t1", "Folder", "folder", str(folder)), lambda: _below(folder))


def link_ground(case: unittest.TestCase) -> Ground:
    """A folder that is not there yet, so it is switched as a whole."""
    folder = Path(case.enterContext(tempfile.TemporaryDirectory())) / "site"
    return Ground(Target("t1", "Link", "folder", str(folder)), lambda: _below(folder))


class _Server(asyncssh.SSHServer):
    def begin_auth(self, username: str) -> bool:
        return True

    def password_auth_supported(self) -> bool:
        return True

    def validate_password(self, username: str, password: str) -> bool:
        return (username, password) == ("me", PASSWORD)


def sftp_ground(case: unittest.TestCase, links: bool = True) -> Ground:
    """A server over SFTP; without links it knows neither links nor replacing by renaming."""
    root = Path(case.enterContext(tempfile.TemporaryDirectory()))

    class Files(asyncssh.SFTPServer):
        def __init__(self, channel: asyncssh.SSHServerChannel) -> None:
            super().__init__(channel, chroot=str(root).encode())

        def symlink(self, old: bytes, new: bytes) -> None:
            if not links:
                raise asyncssh.SFTPOpUnsupported("no links")
            super().symlink(old, new)

    async def start() -> asyncssh.SSHAcceptor:
        return await asyncssh.listen(
            "127.0.0.1", 0, server_factory=_Server, sftp_factory=Files,
            server_host_keys=[asyncssh.generate_private_key("ssh-ed25519")])

    async def stop(server: asyncssh.SSHAcceptor) -> None:
        server.close()
        await server.wait_closed()

    logging.getLogger("asyncssh").setLevel(logging.ERROR)
    server = serve_apart(case, start, stop)
    target = Target("t1", "Server", "sftp", f"127.0.0.1:{server.get_port()}", folder="/www",
                    user="me")
    return Ground(target, lambda: _below(root / "www"))


SSHD = Path("/usr/sbin/sshd")


def openssh_ground(case: unittest.TestCase) -> Ground:
    """A server over SFTP that others wrote, with a key instead of a password."""
    root = Path(case.enterContext(tempfile.TemporaryDirectory()))
    user = getpass.getuser()
    for name in ("host", "mine"):
        subprocess.run(["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", str(root / name)],
                       check=True)
    (root / "allowed").write_bytes((root / "mine.pub").read_bytes())
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    (root / "conf").write_text(
        f"ListenAddress 127.0.0.1:{port}\nHostKey {root}/host\nPidFile {root}/pid\n"
        f"AuthorizedKeysFile {root}/allowed\nStrictModes no\nUsePAM no\n"
        "PermitRootLogin prohibit-password\nSubsystem sftp internal-sftp\n")
    if os.getuid() == 0:  # Where it parts from its rights.
        Path("/run/sshd").mkdir(exist_ok=True)
    server = subprocess.Popen([str(SSHD), "-D", "-f", str(root / "conf")],
                              stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    case.addCleanup(server.wait, 30)
    case.addCleanup(server.terminate)
    end = time.monotonic() + 240
    while time.monotonic() < end:
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), 1):
            break
        time.sleep(0.1)
    target = Target("t1", "Server", "sftp", f"127.0.0.1:{port}", folder=str(root / "www"),
                    user=user, key_file=str(root / "mine"))
    return Ground(target, lambda: _below(root / "www"))


def dav_ground(case: unittest.TestCase) -> Ground:
    """A server over WebDAV."""
    root = Path(case.enterContext(tempfile.TemporaryDirectory()))
    app = WsgiDAVApp({
        "provider_mapping": {"/": FilesystemProvider(str(root), readonly=False)},
        "simple_dc": {"user_mapping": {"*": {"me": {"password": PASSWORD}}}},
        "verbose": 0, "logging": {"enable": False}})
    server = wsgi.Server(("127.0.0.1", 0), app)
    server.prepare()
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    case.addCleanup(thread.join, 20)
    case.addCleanup(server.stop)
    target = Target("t1", "Shelf", "webdav", f"http://127.0.0.1:{server.bind_addr[1]}/www",
                    user="me")
    return Ground(target, lambda: _below(root / "www"))


def bucket_ground(case: unittest.TestCase) -> Ground:
    """A bucket of S3-compatible storage."""
    server = ThreadedMotoServer("127.0.0.1", 0, verbose=False)
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    server.start()
    case.addCleanup(server.stop)
    address = "http://{}:{}".format(*server.get_host_and_port())
    s3 = boto3.client("s3", endpoint_url=address, aws_access_key_id="me",
                      aws_secret_access_key=PASSWORD, region_name="us-east-1")
    name = f"site-{next(_NUMBERS)}"
    s3.create_bucket(Bucket=name)

    def files() -> dict[str, bytes]:
        held = s3.list_objects_v2(Bucket=name, Prefix="www/").get("Contents", [])
        return {one["Key"][4:]: s3.get_object(Bucket=name, Key=one["Key"])["Body"].read()
                for one in held}

    target = Target("t1", "Bucket", "bucket", address, folder="www", user="me", bucket=name,
                    region="us-east-1")
    return Ground(target, files)


_NUMBERS = iter(range(1, 10_000))


def git_ground(case: unittest.TestCase) -> Ground:
    """A bare repository."""
    root = Path(case.enterContext(tempfile.TemporaryDirectory()))
    subprocess.run(["git", "init", "--quiet", "--bare", str(root / "r.git")], check=True)

    def files() -> dict[str, bytes]:
        with tempfile.TemporaryDirectory() as out:
            done = subprocess.run(["git", "clone", "--quiet", "-b", "pages", str(root / "r.git"),
                                   out], capture_output=True, check=False)
            return _below(Path(out)) if done.returncode == 0 else {}

    return Ground(Target("t1", "Repository", "git", str(root / "r.git"), branch="pages"), files)
