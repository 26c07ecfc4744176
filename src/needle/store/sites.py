"""The sites that this user has opened, last first: a list of folders, and nothing more."""

import shutil
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from needle.core.edit.pages import slug_for
from needle.core.edit.whole import set_site_name
from needle.core.site.site import Site
from needle.core.values.ids import new_id
from needle.store.kept import KeptFile, config_folder
from needle.store.packages import read_package, take_package
from needle.store.project import Project, read_site
from needle.store.refusing import StoreError

__all__ = ["DEMO_FOLDER", "KnownSite", "copy_site", "forget_site", "known_sites", "moved_site",
           "remember_site", "site_of_package"]

# What the folder of a fresh copy of the demo begins with.
DEMO_FOLDER = "needle-demo-"
_MOST = 400
# What of a project is its owner's work; leads, what is live and what was kept stays where it is.
_COPIED = ("media",)


class KnownSite(msgspec.Struct, frozen=True):
    """A site on the list.

    Attributes:
        folder: Where its project is, or was.
        name: What it was called when it was opened last.
        opened: ISO time, UTC.
    """

    folder: str
    name: str = ""
    opened: str = ""


def _file() -> KeptFile[list[KnownSite]]:
    return KeptFile(config_folder() / "sites.json", list[KnownSite], list)


def known_sites() -> list[KnownSite]:
    """Return the sites, the one that was opened last first."""
    return sorted(_file().read(), key=lambda one: one.opened, reverse=True)


def remember_site(folder: Path, name: str) -> None:
    """Put a site at the head of the list.

    Raises:
        OSError: The list cannot be written.
    """
    where = str(folder.resolve())
    fresh = KnownSite(where, name[:120], datetime.now(UTC).isoformat(timespec="seconds"))
    _file().change(lambda held: [fresh, *(one for one in held if one.folder != where)][:_MOST])


def forget_site(folder: str) -> None:
    """Take a site off the list; nothing of it is deleted. Raises as `remember_site` does."""
    _file().change(lambda held: [one for one in held if one.folder != folder])


def moved_site(folder: str, to: Path) -> None:
    """Have a site of the list be found where its folder is now. Raises as `remember_site` does."""
    where = str(to.resolve())
    _file().change(lambda held: [
        msgspec.structs.replace(one, folder=where) if one.folder == folder else one
        for one in held if one.folder != where])


def copy_site(folder: Path, to: Path, name: str) -> None:
    """Make a new site that begins as another is: its pages, forms, brand and media.

    Leads, what is live, releases and earlier versions are not taken along, and neither is the
    domain, which one site alone can have.

    Raises:
        ProjectError: One of them cannot be read or written, or the folder is taken.
        EditError: The name cannot stand there.
        OSError: The media cannot be copied.
    """
    site = set_site_name(read_site(folder), name)
    made = msgspec.structs.replace(site, id=new_id(), address=slug_for(name) or "site", domain="",
                                   served_at="", targets=())
    Project.create(to, made).close()
    for part in _COPIED:
        if (folder / part).is_dir():
            shutil.copytree(folder / part, to / part, dirs_exist_ok=True, symlinks=True)


def site_of_package(site: Site, folder: Path, package: Path) -> None:
    """Make a new site of the page in a package.

    Args:
        site: The new site, without pages.

    Raises:
        PackageError: The package cannot be used; no project is left.
        ProjectError: There is a project already, or the disk refuses it.
    """
    read_package(package)  # What cannot be used makes no folder.
    fresh = not folder.exists()
    project = Project.create(folder, site)
    try:
        whole, _ = take_package(project.saved, folder, package)
        project.save(whole)
    except StoreError:
        project.close()
        if fresh:
            shutil.rmtree(folder, ignore_errors=True)
        raise
    project.close()
