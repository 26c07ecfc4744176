"""Running the host as a process of its own."""

import argparse
import contextlib
import fcntl
import socket
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from needle.host.app import make_app
from needle.host.arguments import add_host_arguments
from needle.host.certifying import CertificateKeeper
from needle.host.live import LiveReader
from needle.host.setting import HostSetting, SettingError
from needle.publish.releases import LiveError, live_folder, read_live
from needle.running.serving import PortTakenError, SecondDoor, bound_socket, serve
from needle.store.certificates import Certificates, WantedCertificate
from needle.store.files import write_atomically
from needle.store.logs import set_up_log
from needle.store.results.place import database_of
from needle.store.results.tables import open_results

__all__ = ["run_host", "setting_of"]


def run_host(project: Path, port: int, *, watched: bool, database: str = "",
             any_port: bool = False, setting: HostSetting = HostSetting()) -> int:
    """Serve a project until told to stop; return the exit code.

    Args:
        database: A SQLAlchemy address; by default the project's own, else SQLite in it.
        any_port: Take a free port if `port` is in use.
    """
    try:
        listener = _door(port, any_port)
        second = None if setting.tls_port is None else _door(setting.tls_port, any_port)
    except PortTakenError as error:
        print(error, file=sys.stderr)
        return 2
    try:
        engine = open_results(database or database_of(project))
    except (SQLAlchemyError, OSError) as error:
        print(f"The results cannot be opened: {str(error).splitlines()[0]}", file=sys.stderr)
        return 2
    keeper = CertificateKeeper(project, LiveReader(project).live)
    facts: dict[str, Any] = {}
    if second is not None:
        keeper.tls_port = facts["tls_port"] = second.getsockname()[1]
    kept = Certificates(project)
    if setting.authority and kept.wanted() != WantedCertificate(setting.authority):
        kept.want(setting.authority, 0)
    with _told_address(project, setting, listener.getsockname()[1]):
        serve(make_app(project, engine, setting, keeper), listener, watched=watched,
              believed=setting.believed, tls=setting.tls,
              second=None if second is None else SecondDoor(second, keeper.first_context),
              **facts)
    return 0


def _door(port: int, any_port: bool) -> socket.socket:
    """Return a socket that listens.

    Raises:
        PortTakenError: The port is in use, and no other would do.
    """
    try:
        return bound_socket(port)
    except PortTakenError:
        if not any_port:
            raise
        return bound_socket(0)


@contextlib.contextmanager
def _told_address(project: Path, setting: HostSetting, port: int) -> Iterator[None]:
    """Write down where visitors reach the host, for the links in letters, unless another host of
    this project has done so and still runs."""
    folder = live_folder(project)
    folder.mkdir(parents=True, exist_ok=True)
    with open(folder / ".host.lock", "a+b") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            yield
            return
        with contextlib.suppress(OSError):
            write_atomically(folder / "host.address",
                             setting.address(_site_address(project), port).encode())
        yield


def _site_address(project: Path) -> str:
    try:
        live = read_live(project)
    except LiveError:
        return ""
    return live.address if live else ""


def setting_of(asked: argparse.Namespace) -> HostSetting:
    """Return the settings that a command line asks for.

    Raises:
        SettingError: They make no sense.
    """
    if (asked.certificate is None) != (asked.key is None):
        raise SettingError("host-certificate-and-key")
    tls = None if asked.certificate is None else (asked.certificate, asked.key)
    return HostSetting(asked.public, tuple(asked.behind), tls, asked.tls_port, asked.authority)


def main() -> int:
    """Read the command line and run."""
    parser = argparse.ArgumentParser(description="The host of one project.")
    add_host_arguments(parser)
    parser.add_argument("--any-port", action="store_true")
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    set_up_log("host")
    try:
        setting = setting_of(asked)
    except SettingError as error:
        print(error, file=sys.stderr)
        return 2
    return run_host(asked.project, asked.port, watched=asked.watched, database=asked.database,
                    any_port=asked.any_port, setting=setting)


if __name__ == "__main__":
    sys.exit(main())
