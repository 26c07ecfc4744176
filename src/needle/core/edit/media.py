"""Edits of pictures, videos, files and fonts."""

from collections.abc import Iterable, Iterator, Mapping

import msgspec

from needle.core.edit.everywhere import map_nodes, nodes_of
from needle.core.edit.place import EditError
from needle.core.edit.texts import with_value
from needle.core.render.reads import media_of
from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.core.values.media import Font, Medium
from needle.core.values.node import Node
from needle.core.values.widths import Width

__all__ = ["add_fonts", "add_medium", "delete_media", "drop_family", "media_by_name",
           "media_uses", "replace_medium", "set_medium", "unused_media"]


def add_medium(site: Site, medium: Medium) -> Site:
    """Return the site with one more medium; one with the same file is not added twice."""
    if any(old.file == medium.file for old in site.media):
        return site
    return msgspec.structs.replace(site, media=(*site.media, medium))


def set_medium(site: Site, medium_id: Id, **fields: object) -> Site:
    """Return the site with fields of a medium changed, as its words or its focus.

    Raises:
        EditError: It is no longer there.
    """
    if site.medium(medium_id) is None:
        raise EditError("picture-gone")
    media = tuple(msgspec.structs.replace(m, **fields) if m.id == medium_id else m
                  for m in site.media)
    return site if media == site.media else msgspec.structs.replace(site, media=media)


def replace_medium(site: Site, medium_id: Id, other: Medium) -> Site:
    """Return the site with another file in place of a medium, wherever it is shown.

    Its words stay, since the place it has on the pages is the same; a video takes the place
    of a video only, and a picture that of a picture.

    Raises:
        EditError: It is no longer there, or the other is of another sort.
    """
    old = site.medium(medium_id)
    if old is None:
        raise EditError("picture-gone")
    if (old.is_video, old.is_picture) != (other.is_video, other.is_picture):
        raise EditError("media-other-kind")
    changed = msgspec.structs.replace(other, id=old.id, alt=old.alt, invented=False)
    same = any(m.file == other.file and m.id != medium_id for m in site.media)
    if not same:
        return set_medium(site, medium_id, **{name: getattr(changed, name)
                                              for name in changed.__struct_fields__})
    # The file is there as a medium of its own: what showed the old one shows that one.
    there = next(m for m in site.media if m.file == other.file)
    return delete_media(_pointed(site, medium_id, there.id), (medium_id,))


def _pointed(site: Site, old: Id, new: Id) -> Site:
    def how(node: Node) -> Node:
        for path, medium in list(media_of(node)):
            if medium == old:
                node = with_value(node, path, new)
        return node

    site = map_nodes(site, how)
    pages = tuple(msgspec.structs.replace(page, share=new) if page.share == old else page
                  for page in site.pages)
    return msgspec.structs.replace(site, pages=pages)


def media_uses(site: Site) -> dict[Id, list[str]]:
    """Return where each medium is used, by its id: names of pages and tables, in order, each once.
    """
    uses: dict[Id, dict[str, None]] = {medium.id: {} for medium in site.media}

    def note(medium: Id, where: str) -> None:
        if medium in uses:
            uses[medium][where] = None

    for page, node in nodes_of(site):
        for _, medium in media_of(node):
            note(medium, page.name if page else "Kept sections")
    for page in site.pages:
        note(page.share, f"{page.name}, when shared")
        for variant in page.archive:
            for node in variant.nodes():
                for _, medium in media_of(node):
                    note(medium, f"{page.name}, archived")
    for medium, table in _in_rows(site):
        note(medium, f"Table {table}")
    note(site.brand.mark.medium, "Sign of the site")
    note(site.brand.share.medium, "Share pictures")
    return {medium: list(places) for medium, places in uses.items()}


def _in_rows(site: Site) -> Iterator[tuple[Id, str]]:
    """Yield each medium that a row of a table names, and the table's name."""
    named = media_by_name(site)
    bound = {(page.master.table, one.column) for page in site.pages
             for one in page.master.apart if one.field == "medium"}
    for table in site.tables:
        for place, column in enumerate(table.columns):
            if column.kind in ("picture", "pictures") or (table.id, column.id) in bound:
                for row in table.rows:
                    for name in row.cells[place].split("; "):
                        if medium := named.get(name.casefold()):
                            yield medium.id, table.name


def media_by_name(site: Site) -> Mapping[str, Medium]:
    """Return the media of a site by their names and files, in small letters."""
    found: dict[str, Medium] = {}
    for medium in site.media:
        for name in (medium.name, medium.file):
            found.setdefault(name.casefold(), medium)
    return found


def unused_media(site: Site) -> list[Id]:
    """Return the media that nothing shows."""
    return [medium for medium, places in media_uses(site).items() if not places]


def delete_media(site: Site, ids: Iterable[Id]) -> Site:
    """Return the site without some media; their files stay on disk for undo and versions."""
    gone = set(ids)
    return msgspec.structs.replace(site, media=tuple(
        medium for medium in site.media if medium.id not in gone))


def add_fonts(site: Site, fonts: Iterable[Font]) -> Site:
    """Return the site with more cuts of type; a cut of the same family, weight and slant is
    replaced."""
    fresh = tuple(fonts)
    taken = {(font.family, font.weight, font.italic) for font in fresh}
    kept = tuple(font for font in site.fonts
                 if (font.family, font.weight, font.italic) not in taken)
    return msgspec.structs.replace(site, fonts=(*kept, *fresh))


def drop_family(site: Site, family: str) -> Site:
    """Return the site without a family that was added.

    Raises:
        EditError: The brand uses it.
    """
    if family in (site.brand.heading_face, site.brand.body_face):
        raise EditError("family-in-use", family=family)
    looks = [style.look for style in site.styles] + [node.look for _, node in nodes_of(site)]
    if any(look.at(width).get("face") == family for look in looks for width in (None, *Width)):
        raise EditError("family-is-a-face", family=family)
    return msgspec.structs.replace(site, fonts=tuple(
        font for font in site.fonts if font.family != family))
