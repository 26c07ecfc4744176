"""Releases for programs: the lines that `./needle release` prints, the last one for all."""

from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from needle.core.site.site import Site
from needle.core.values.counting import counted
from needle.core.values.targets import Target
from needle.publish.live import bring_back, changed_pages, send_pages
from needle.publish.refusing import PublishError
from needle.publish.release import Release
from needle.publish.releases import Releases
from needle.publish.targets.opening import send_release, tell
from needle.store.project import read_site

__all__ = ["list_releases", "put_back", "release"]


def release(project: Path, to: str, name: str = "") -> Iterator[str]:
    """Make what changed live, then send it to a target, and yield what to print.

    Args:
        to: "test" for the test address alone; else a target's name or id, or a path.

    Raises:
        ProjectError: There is no project.
        PublishError: Something speaks against it.
    """
    site = read_site(project)
    target = None if to == "test" else _target(site, to)
    wanted = changed_pages(site, project)
    store = Releases(project)
    if wanted:
        send_pages(site, project, wanted, name=name)
    now = store.current()
    if now is None:
        raise PublishError("release-no-pages")
    if target is None:
        yield f"{now.id}: {counted(len(wanted), 'page')} sent, {len(now.live.pages)} live"
        return
    if to not in (target.name, target.id) or site.target(target.id) is None:
        tell(site.id, target)  # A path that was typed just now is meant.
    done = send_release(site, target, now, store)
    yield (f"{now.id}: {counted(len(wanted), 'page')} sent, {counted(done.put, 'file')} put at "
           f"{target.name}, {done.same} as they were, {done.removed} removed")


def _target(site: Site, name: str) -> Target:
    for target in site.targets:
        if name in (target.id, target.name):
            return target
    if "/" in name or name.endswith(".zip"):
        path = Path(name).expanduser().absolute()
        return Target("typed", str(path), "zip" if path.suffix == ".zip" else "folder", str(path))
    known = ", ".join(["test", *(target.name for target in site.targets)])
    raise PublishError("target-unknown", name=name[:80], known=known)


def list_releases(project: Path) -> Iterator[str]:
    """Yield a line a release, the last first; "live" marks the one that visitors get.

    Raises:
        ProjectError: There is no project.
        PublishError: What is live cannot be read.
    """
    read_site(project)
    store = Releases(project)
    live = store.pointer()
    for number, one in enumerate(store.every(), 1):
        mark = "live" if live and live.release == one.id else "    "
        yield f"{number:3} {mark} {one.id}  {_local(one)}  {_what(one)}".rstrip()
    if live is None:
        yield "Nothing was sent yet."


def _what(one: Release) -> str:
    """Return what a release did, in words."""
    if one.back_to:
        done = f"brought {one.back_to} back"
    elif one.off:
        done = f"took off {', '.join(one.off)}"
    else:
        done = f"sent {', '.join(page.name for page in one.told)}" if one.told else ""
    pages = counted(len(one.live.pages), "page")
    return ", ".join(part for part in (one.name, f"{pages} live", done, one.who) if part)


def _local(one: Release) -> str:
    return f"{datetime.fromisoformat(one.at).astimezone():%Y-%m-%d %H:%M}"


def put_back(project: Path, number: int) -> Iterator[str]:
    """Make a release of the list live again, and yield what to print.

    Raises:
        ProjectError: There is no project.
        PublishError: There is no such number, or it cannot come back.
    """
    read_site(project)
    store = Releases(project)
    ids = [one.id for one in store.every()]
    if not 0 < number <= len(ids):
        raise PublishError("release-unknown", name=number)
    bring_back(project, ids[number - 1])
    now = store.current()
    assert now is not None
    yield f"{now.id}: {ids[number - 1]} is back, {counted(len(now.live.pages), 'page')} live"
