"""A git repository: one commit a release, pushed; it is switched as a whole."""

import os
import shutil
import subprocess
import tempfile
from pathlib import Path

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["GitPlace"]

_WAIT_S = 300
_WHO = ("Needle", "needle@localhost")


class GitPlace:
    """A branch of a repository, worked on in a clone of its own that goes when all is done."""

    switching: Switching = "whole"
    threads = 1

    def __init__(self, address: str, branch: str, name: str) -> None:
        """Fetch the branch; it need not be there yet.

        Args:
            address: A path, or what git takes as a remote's address.

        Raises:
            PlaceError: There is no git here, or the repository is away or refuses.
        """
        self.name = name
        self._address, self._branch = address, branch or "main"
        # What git would take for an option, or for a command to run, is no repository.
        if address.startswith("-") or "::" in address or self._branch.startswith("-"):
            raise PlaceError("target-address", target=name, address=address[:200])
        if shutil.which("git") is None:
            raise PlaceError("target-no-git", target=name)
        self._folder = tempfile.TemporaryDirectory(prefix="needle-git-")
        self._tree = Path(self._folder.name) / "tree"
        try:
            self._git("init", "--quiet", "--initial-branch", self._branch, str(self._tree),
                      inside=False)
            if self._git("ls-remote", "--heads", "--", address, f"refs/heads/{self._branch}"):
                self._git("fetch", "--quiet", "--depth=1", "--", address, self._branch)
                self._git("reset", "--quiet", "--hard", "FETCH_HEAD")
        except BaseException:
            self._folder.cleanup()
            raise

    def _git(self, *words: str, inside: bool = True) -> str:
        where = ("-C", str(self._tree)) if inside else ()
        environment = os.environ | {
            "GIT_TERMINAL_PROMPT": "0", "GIT_AUTHOR_NAME": _WHO[0], "GIT_AUTHOR_EMAIL": _WHO[1],
            "GIT_COMMITTER_NAME": _WHO[0], "GIT_COMMITTER_EMAIL": _WHO[1], "LC_ALL": "C",
            "GIT_SSH_COMMAND": "ssh -oBatchMode=yes", "GIT_ALLOW_PROTOCOL": "file:https:http:ssh"}
        try:
            done = subprocess.run(["git", *where, "-c", "core.hooksPath=/dev/null",
                                   "-c", "core.autocrlf=false", *words],
                                  env=environment, stdin=subprocess.DEVNULL, capture_output=True,
                                  timeout=_WAIT_S, check=False)
        except (OSError, subprocess.TimeoutExpired) as error:
            raise PlaceError("target-away", target=self.name, place=self._address,
                             why=type(error).__name__) from error
        if done.returncode:
            said = done.stderr.decode("utf-8", "replace").strip().splitlines()
            raise PlaceError("target-away", target=self.name, place=self._address,
                             why=said[-1][:200] if said else f"git ended with {done.returncode}")
        return done.stdout.decode("utf-8", "replace").strip()

    def get(self, path: str) -> bytes | None:
        """As every place."""
        at = self._tree / path
        # A link that somebody committed leads anywhere on this machine.
        return at.read_bytes() if at.is_file() and not at.is_symlink() else None

    def size(self, path: str) -> int | None:
        """As every place."""
        at = self._tree / path
        return at.stat().st_size if at.is_file() and not at.is_symlink() else None

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        at = self._tree / path
        try:
            for part in (at, *at.parents):
                if part == self._tree:
                    break
                if part.is_symlink() or (part != at and part.is_file()):
                    part.unlink()
            at.parent.mkdir(parents=True, exist_ok=True)
            at.write_bytes(data)
        except OSError as error:
            raise PlaceError("target-refused", target=self.name,
                             why=error.strerror or str(error)) from error

    def remove(self, path: str) -> None:
        """As every place."""
        (self._tree / path).unlink(missing_ok=True)

    def switch(self, manifest: bytes) -> None:
        """As every place: commit and push, which is refused where somebody else has pushed."""
        self.put(MANIFEST, manifest)
        self._git("add", "--all", "--force", ".")
        if self._git("status", "--porcelain"):
            self._git("commit", "--quiet", "--message", "Release from Needle")
            self._git("push", "--quiet", "--", self._address, f"HEAD:refs/heads/{self._branch}")

    def close(self) -> None:
        """As every place."""
        self._folder.cleanup()
