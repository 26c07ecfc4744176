"""Repairing a project in which ids stand twice."""

import contextlib
import shutil
import time
from pathlib import Path

import msgspec

from needle.core.edit.doubles import doubled_ids, without_doubles
from needle.core.edit.pages import free_slug, slug_fault
from needle.core.site.site import Page, Site
from needle.store.project import ProjectError, project_lock, read_parts, write_parts
from needle.store.tablefiles import TABLES

__all__ = ["repair_project"]


def repair_project(folder: Path) -> int:
    """Give every second thing with an id that stands twice one of its own, and return how many
    those were. The files as they were are kept in a folder beside.

    Raises:
        ProjectError: The files cannot be read or written.
    """
    with contextlib.closing(project_lock(folder)):
        return _repaired(folder)


def _repaired(folder: Path) -> int:
    site, _ = read_parts(folder)
    count = sum(1 for _ in doubled_ids(site))
    if not count:
        return 0
    aside = folder / "versions" / f"before-repair-{time.strftime('%Y%m%d-%H%M%S')}"
    try:
        aside.mkdir(parents=True)
        shutil.copy2(folder / "site.json", aside)
        for part in ("pages", TABLES):
            if (folder / part).is_dir():
                shutil.copytree(folder / part, aside / part)
        write_parts(folder, _with_free_slugs(without_doubles(site)))
    except OSError as error:
        raise ProjectError("project-not-repaired", folder=folder, why=error.strerror) from error
    return count


def _with_free_slugs(site: Site) -> Site:
    """Return the site with a slug of its own for every page that came twice."""
    kept: list[Page] = []
    for page in site.pages:
        so_far = msgspec.structs.replace(site, pages=tuple(kept))
        if slug_fault(so_far, page.slug, page.id):
            page = msgspec.structs.replace(page, slug=free_slug(so_far, page.slug or page.name))
        kept.append(page)
    return msgspec.structs.replace(site, pages=tuple(kept))
