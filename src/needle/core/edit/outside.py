"""Edits of what stands on pages that were made elsewhere."""

from collections.abc import Iterator
from urllib.parse import urlsplit

import msgspec

from needle.core.edit.place import EditError
from needle.core.kinds.formbox import FormBox
from needle.core.site.site import Page, Site
from needle.core.site.tree import Popup
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node
from needle.core.values.outside import OutsidePart
from needle.core.values.strict import StrictError

__all__ = ["add_part", "could_be_outside", "origins_of", "part_node", "remove_part", "set_part"]


def could_be_outside(site: Site) -> Iterator[tuple[Page, Node]]:
    """Yield every form and popup that can be shown elsewhere and is not yet, with its page."""
    taken = {(part.page, part.node) for part in site.outside}
    for page in site.pages:
        seen: set[Id] = set()
        for variant in page.variants:
            for node in variant.nodes():
                if (isinstance(node, Popup) or (isinstance(node, FormBox) and node.form)) and (
                        node.id not in seen and (page.id, node.id) not in taken):
                    seen.add(node.id)
                    yield page, node


def part_node(site: Site, part: OutsidePart) -> tuple[Page, Node] | None:
    """Return the page and the form or popup that a part shows; `None` if it is gone."""
    page = site.page(part.page)
    for variant in page.variants if page else ():
        for node in variant.nodes():
            if node.id == part.node and page is not None:
                return page, node
    return None


def add_part(site: Site, page_id: Id, node_id: Id) -> tuple[Site, Id]:
    """Return the site with one more form or popup to be shown elsewhere, and its id.

    Raises:
        EditError: There is none of that id, or it is shown elsewhere already.
    """
    if not any(page.id == page_id and node.id == node_id for page, node in could_be_outside(site)):
        raise EditError("outside-none")
    made = new_id()
    return msgspec.structs.replace(
        site, outside=(*site.outside, OutsidePart(made, page_id, node_id))), made


def set_part(site: Site, part_id: Id, **values: object) -> Site:
    """Return the site with a part set otherwise.

    Raises:
        EditError: A value cannot stand there.
    """
    def changed(part: OutsidePart) -> OutsidePart:
        try:
            return msgspec.structs.replace(part, **values)
        except StrictError as error:
            raise EditError(error.message) from error

    parts = tuple(changed(part) if part.id == part_id else part for part in site.outside)
    return site if parts == site.outside else msgspec.structs.replace(site, outside=parts)


def remove_part(site: Site, part_id: Id) -> Site:
    """Return the site without a part; once its page is sent it is shown nowhere any more."""
    return msgspec.structs.replace(site, outside=tuple(
        part for part in site.outside if part.id != part_id))


def origins_of(words: str) -> tuple[str, ...]:
    """Return the sites that somebody typed, each as a browser names it; addresses of pages and
    names without a scheme are understood.

    Raises:
        EditError: One is none.
    """
    found = []
    for typed in words.replace(",", " ").split()[:40]:
        try:
            parts = urlsplit(typed if "://" in typed else f"https://{typed}")
            host = (parts.hostname or "").encode("idna").decode() if parts.hostname else ""
            port = f":{parts.port}" if parts.port else ""
        except (ValueError, UnicodeError) as error:
            raise EditError("outside-no-site", given=typed[:80]) from error
        if parts.scheme not in ("http", "https") or not host:
            raise EditError("outside-no-site", given=typed[:80])
        found.append(f"{parts.scheme}://{host}{port}")
    return tuple(dict.fromkeys(found))
