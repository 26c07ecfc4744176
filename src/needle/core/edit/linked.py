"""Sections that are kept for other pages: as a copy, or linked so that one edit reaches all.

Every use of a linked section stands whole in its page, under ids of its own, so rendering,
publishing and undo need to know nothing of links. After each edit `follow_links` carries what
changed in one use to the others.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import msgspec

from needle.core.edit.copying import fresh_copy, renamed
from needle.core.edit.place import EditError, find, node_at, put
from needle.core.kinds.heading import Heading
from needle.core.site.site import Kept, Page, Site, Variant
from needle.core.site.tree import Section, walk
from needle.core.values.actions import Action, OpenPopup
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node

__all__ = ["Use", "drop_kept", "fitted", "follow_links", "keep_section", "linked_uses",
           "rename_kept", "unlink", "update_kept", "use_kept"]


@dataclass(frozen=True, slots=True)
class Use:
    """A page on which a linked section stands."""

    page: Id
    name: str


def linked_uses(site: Site, kept_id: Id) -> list[Use]:
    """Return the pages on which a kept section stands linked, each once."""
    return [Use(page.id, page.name) for page in site.pages
            if any(section.linked == kept_id for v in page.variants for section in v.children)]


def _section(site: Site, section_id: Id) -> Section:
    node = node_at(site, find(site, section_id))
    if not isinstance(node, Section):
        raise EditError("kept-needs-section")
    return node


def _checked(site: Site, name: str, kept_id: Id = "") -> str:
    tidy = " ".join(name.split())[:80]
    if not tidy:
        raise EditError("kept-needs-name")
    if any(kept.name.casefold() == tidy.casefold() and kept.id != kept_id for kept in site.kept):
        raise EditError("kept-name-taken", name=tidy)
    return tidy


def keep_section(site: Site, section_id: Id, name: str, linked: bool) -> tuple[Site, Id]:
    """Return the site with a section kept for other pages, and the id it is kept under.

    Args:
        linked: Uses follow each other from now on; this section is the first of them.
    """
    section = _section(site, section_id)
    if linked and section.linked:
        raise EditError("kept-linked-already")
    name = _checked(site, name)
    kept = Kept(id=new_id(), name=name, linked=linked,
                section=msgspec.structs.replace(fresh_copy(section), linked="", name=name))
    site = msgspec.structs.replace(site, kept=(*site.kept, kept))
    if linked:
        site = put(site, find(site, section_id),
                   msgspec.structs.replace(section, linked=kept.id, name=name))
    return site, kept.id


def use_kept(site: Site, kept_id: Id) -> Section:
    """Return a fresh section from a kept one, to be put into a page."""
    kept = site.kept_section(kept_id)
    if kept is None:
        raise EditError("kept-gone")
    copy: Section = fresh_copy(kept.section)
    return msgspec.structs.replace(copy, linked=kept.id) if kept.linked else copy


def fitted(section: Section, variant: Variant) -> Section:
    """Return a section for a page that may have its own heading already: there is one of those."""
    if not any(isinstance(node, Heading) and node.rank == 1 for node in variant.nodes()):
        return section

    def walked(node: Node) -> Node:
        if isinstance(node, Heading) and node.rank == 1:
            return msgspec.structs.replace(node, rank=2)
        if children := getattr(node, "children", ()):
            return msgspec.structs.replace(node, children=tuple(walked(c) for c in children))
        return node

    return walked(section)  # type: ignore[return-value]


def unlink(site: Site, section_id: Id) -> Site:
    """Return the site with a section that follows no other any more."""
    section = _section(site, section_id)
    if not section.linked:
        return site
    return put(site, find(site, section_id), msgspec.structs.replace(section, linked=""))


def update_kept(site: Site, kept_id: Id, section_id: Id) -> Site:
    """Return the site with a kept section as this one is now; copies made before stay."""
    fresh = msgspec.structs.replace(fresh_copy(_section(site, section_id)), linked="")
    kept = tuple(msgspec.structs.replace(k, section=msgspec.structs.replace(
        fresh, name=k.name)) if k.id == kept_id else k
                 for k in site.kept)
    return msgspec.structs.replace(site, kept=kept)


def rename_kept(site: Site, kept_id: Id, name: str) -> Site:
    """Return the site with a kept section under another name; where it stands linked, too."""
    name = _checked(site, name, kept_id)
    kept = tuple(msgspec.structs.replace(k, name=name, section=msgspec.structs.replace(
        k.section, name=name)) if k.id == kept_id else k for k in site.kept)
    if kept == site.kept:
        return site
    site = msgspec.structs.replace(site, kept=kept)
    for _, _, section in list(_uses(site, kept_id)):
        site = put(site, find(site, section.id), msgspec.structs.replace(section, name=name))
    return site


def drop_kept(site: Site, kept_id: Id) -> Site:
    """Return the site without a kept section; where it stands linked it stays, unlinked."""
    for section in [section for _, _, section in _uses(site, kept_id)]:
        site = unlink(site, section.id)
    return msgspec.structs.replace(site, kept=tuple(k for k in site.kept if k.id != kept_id))


def _uses(site: Site, kept_id: Id) -> Iterator[tuple[Page, Variant, Section]]:
    for page in site.pages:
        for variant in page.variants:
            for section in variant.children:
                if section.linked == kept_id:
                    yield page, variant, section


def follow_links(old: Site, new: Site) -> Site:
    """Return `new` with what changed in a linked section since `old` carried to its other uses.

    Only pages that are other objects than before are looked at, so typing elsewhere costs
    nothing.
    """
    if not new.kept or old.pages is new.pages:
        return new
    before = {page.id: page for page in old.pages}
    for page in new.pages:
        was = before.get(page.id)
        if was is None or was is page:
            continue
        known = {s.id: s for v in was.variants for s in v.children if s.linked}
        for section in [s for v in page.variants for s in v.children if s.linked]:
            former = known.get(section.id)
            if former is not None and former is not section and former.linked == section.linked:
                new = _carried(new, former, section)
    return new


def _carried(site: Site, former: Section, section: Section) -> Site:
    kept = site.kept_section(section.linked)
    if kept is None or not kept.linked:
        return site
    fresh: Section = _followed(kept.section, former, section)
    site = msgspec.structs.replace(site, kept=tuple(
        msgspec.structs.replace(k, section=msgspec.structs.replace(fresh, linked=""))
        if k.id == kept.id else k for k in site.kept))
    for _, variant, other in list(_uses(site, kept.id)):
        if other.id != section.id:
            after = _at_home(_followed(other, former, section), other, variant)
            if after != other:
                site = put(site, find(site, other.id), after)
    return site


def _followed(other: Section, former: Section, section: Section) -> Section:
    """Return `section` under the ids of `other`, which was the same as `former`.

    A part that was there before keeps the id that its counterpart has; new ones get new ids.
    """
    pairs = dict(zip((node.id for node in walk(former)), (node.id for node in walk(other)),
                     strict=False))
    names = {node.id: pairs.get(node.id) or new_id() for node in walk(section)}
    copy: Section = renamed(section, names)
    return copy


def _at_home(copy: Section, other: Section, variant: Variant) -> Section:
    """Return the copy with clicks that open a popup of the other page opening its own.

    A page's popups are its own: a click of the copy keeps what it opened there before.
    """
    popups = {popup.id for popup in variant.popups}
    before = {node.id: getattr(node, "actions", ()) for node in walk(other)}

    def settle(action: Action, at: int, node: Node) -> Action:
        if isinstance(action, OpenPopup) and action.popup not in popups:
            held = before.get(node.id, ())
            if at < len(held) and isinstance(held[at], OpenPopup):
                return held[at]  # type: ignore[no-any-return]
        return action

    def walked(node: Node) -> Node:
        changes: dict[str, object] = {}
        if children := getattr(node, "children", ()):
            changes["children"] = tuple(walked(child) for child in children)
        if actions := getattr(node, "actions", ()):
            changes["actions"] = tuple(settle(a, at, node) for at, a in enumerate(actions))
        return msgspec.structs.replace(node, **changes) if changes else node

    return walked(copy)  # type: ignore[return-value]
