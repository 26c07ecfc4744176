"""Edits of the places that a site is sent to."""

import re

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.core.values.targets import TARGET_KINDS, Target

__all__ = ["delete_target", "keep_target"]

_SERVER = re.compile(r"(?:[\w.-]+|\[[0-9a-fA-F:]+\])(?::\d{1,5})?")
_BUCKET = re.compile(r"[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]")


def keep_target(site: Site, target: Target) -> Site:
    """Return the site with a target, in the place of the one with its id.

    Raises:
        EditError: It has no name, a name that another one has, or no place that can be.
    """
    target = msgspec.structs.replace(
        target, name=" ".join(target.name.split()), place=target.place.strip(),
        folder=target.folder.strip(), user=target.user.strip(), bucket=target.bucket.strip())
    if not target.name:
        raise EditError("target-needs-name")
    if any(other.name == target.name and other.id != target.id for other in site.targets):
        raise EditError("target-name-taken", name=target.name)
    _check_place(target)
    known = site.target(target.id)
    if known == target:
        return site
    targets = (*site.targets, target) if known is None else tuple(
        target if other.id == target.id else other for other in site.targets)
    return msgspec.structs.replace(site, targets=targets)


def _check_place(target: Target) -> None:
    place, kind = target.place, TARGET_KINDS[target.kind]
    match target.kind:
        case "folder" | "zip" if not place.startswith(("/", "~/")):
            raise EditError("target-needs-path", kind=kind)
        case "zip" if not place.lower().endswith(".zip"):
            raise EditError("target-needs-zip")
        case "sftp" if _SERVER.fullmatch(place) is None or not target.folder or not target.user:
            raise EditError("target-needs-server")
        case "webdav" if not place.startswith(("https://", "http://")):
            raise EditError("target-needs-address", kind=kind)
        case "bucket" if _BUCKET.fullmatch(target.bucket) is None or (
                place and not place.startswith(("https://", "http://"))):
            raise EditError("target-needs-bucket")
        case "git" if not place or place.startswith("-"):
            raise EditError("target-needs-repository")


def delete_target(site: Site, target_id: Id) -> Site:
    """Return the site without a target; what was sent there stays there."""
    return msgspec.structs.replace(site, targets=tuple(
        target for target in site.targets if target.id != target_id))
