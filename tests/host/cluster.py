"""A PostgreSQL server of the tests' own, in a temporary folder, as an unprivileged user."""

import contextlib
import os
import pwd
import shutil
import socket
import subprocess
import tempfile
from pathlib import Path

__all__ = ["Cluster", "programs"]

_USER = "postgres"


def programs() -> Path | None:
    """Return the folder of PostgreSQL's programs, or `None` where it is not installed."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin"))
    return found[-1] if found else None


def _free_port() -> int:
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return int(one.getsockname()[1])


class Cluster:
    """One server with one empty database, "needle".

    Attributes:
        address: Its SQLAlchemy address, as a person would write it.
    """

    def __init__(self, within: Path = Path("/tmp")) -> None:
        """Make and start it.

        Args:
            within: Where its folder is made.
        """
        bin_folder = programs()
        assert bin_folder is not None
        self._bin = bin_folder
        self._folder = Path(tempfile.mkdtemp(prefix="needle-pg-", dir=within))
        # PostgreSQL refuses to run as root.
        self._as_root = os.getuid() == 0
        if self._as_root:
            entry = pwd.getpwnam(_USER)
            os.chown(self._folder, entry.pw_uid, entry.pw_gid)
        self.port = _free_port()
        self._run("initdb", "-D", str(self._data), "-U", "needle", "-A", "trust", "-N",
                  "--locale=C.UTF-8", "-E", "UTF8")
        with (self._data / "postgresql.conf").open("a") as conf:
            conf.write(f"\nport={self.port}\nlisten_addresses='127.0.0.1'\n"
                       f"unix_socket_directories='{self._folder}'\nmax_connections=200\n")
        self.start()
        self._run("createdb", "-h", "127.0.0.1", "-p", str(self.port), "-U", "needle", "needle")
        self.address = f"postgresql://needle@127.0.0.1:{self.port}/needle"

    def database(self, name: str) -> str:
        """Make another empty database and return its address."""
        self._run("createdb", "-h", "127.0.0.1", "-p", str(self.port), "-U", "needle", name)
        return f"postgresql://needle@127.0.0.1:{self.port}/{name}"

    @property
    def _data(self) -> Path:
        return self._folder / "data"

    def _run(self, program: str, *arguments: str) -> None:
        command = [str(self._bin / program), *arguments]
        if self._as_root:
            command = ["setpriv", f"--reuid={_USER}", f"--regid={_USER}", "--clear-groups",
                       *command]
        subprocess.run(command, check=True, stdin=subprocess.DEVNULL, cwd=self._folder,
                       stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, timeout=120)

    def start(self) -> None:
        """Start the server and wait until it takes connections."""
        self._run("pg_ctl", "-D", str(self._data), "-w", "-l", str(self._folder / "log"), "start")

    @property
    def runs(self) -> bool:
        """Whether it is up."""
        try:
            self._run("pg_ctl", "-D", str(self._data), "status")
        except subprocess.CalledProcessError:
            return False
        return True

    def stop(self) -> None:
        """Stop it at once, as a machine that goes down does."""
        self._run("pg_ctl", "-D", str(self._data), "-w", "-m", "immediate", "stop")

    def restart(self) -> None:
        """Stop it and start it again."""
        self.stop()
        self.start()

    def remove(self) -> None:
        """Stop it and clear everything away."""
        with contextlib.suppress(subprocess.CalledProcessError):  # It may be stopped already.
            self.stop()
        shutil.rmtree(self._folder, ignore_errors=True)
