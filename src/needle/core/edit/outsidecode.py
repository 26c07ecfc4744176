"""Outside code in a site: every place where it stands, and the site without some of it."""

import hashlib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import msgspec

from needle.core.edit.everywhere import map_nodes
from needle.core.kinds.embed import Embed
from needle.core.site.site import NO_CODE, Code, Page, Site
from needle.core.site.tree import walk
from needle.core.values.node import Node
from needle.core.values.remembering import remembered

__all__ = ["OutsideCode", "code_digest", "codes_in", "codes_on_page", "without_codes"]

_PARTS = {"head": "the end of the head", "body": "the end of the body", "css": "own CSS"}


@dataclass(frozen=True, slots=True)
class OutsideCode:
    """A piece of code that stands somewhere in a site.

    Attributes:
        where: The place, in words.
        digest: The same for the same code, wherever it stands.
    """

    where: str
    code: str
    digest: str


def codes_in(site: Site) -> Iterator[OutsideCode]:
    """Yield every piece of outside code of a site, switched on or not."""
    yield from _of_code(site.code, "the whole site")
    for folder in site.folders:
        yield from _of_code(folder.code, f"the folder “{folder.name}”")
    for code in site.tracking:
        yield from _piece(code.html, f"the tracking code “{code.name}”")
    for kept in site.kept:
        yield from _of_nodes(walk(kept.section), f"the kept section “{kept.name}”")
    for page in site.pages:
        yield from codes_on_page(page)


def codes_on_page(page: Page) -> Sequence[OutsideCode]:
    """Return every piece of outside code of a page, archived variants and all."""
    return remembered(page, "codes", lambda page: tuple(_on_page(page)))


def _on_page(page: Page) -> Iterator[OutsideCode]:
    yield from _of_code(page.code, f"“{page.name}”")
    for variant in (*page.variants, *page.archive):
        yield from _of_nodes(variant.nodes(), f"“{page.name}”")


def _of_code(code: Code, where: str) -> Iterator[OutsideCode]:
    for part, words in _PARTS.items():
        yield from _piece(getattr(code, part), f"{where}, {words}")


def _of_nodes(nodes: Iterator[Node], where: str) -> Iterator[OutsideCode]:
    for node in nodes:
        if isinstance(node, Embed):
            yield from _piece(node.code, f"{where}, embedded code")


def _piece(code: str, where: str) -> Iterator[OutsideCode]:
    if code.strip():
        yield OutsideCode(where, code, code_digest(code))


def code_digest(code: str) -> str:
    """Return what tells a piece of code from any other."""
    return hashlib.sha256(code.encode("utf-8", "surrogatepass")).hexdigest()


def without_codes(site: Site, allowed: Callable[[str], bool]) -> Site:
    """Return the site without the code that is not allowed; the same site if all of it is.

    Args:
        allowed: Told a digest, returns whether that code may go to visitors.
    """
    if all(allowed(piece.digest) for piece in codes_in(site)):
        return site

    def kept(code: str) -> str:
        return code if not code.strip() or allowed(code_digest(code)) else ""

    def sound(code: Code) -> Code:
        return NO_CODE if code == NO_CODE else Code(
            head=kept(code.head), body=kept(code.body), css=kept(code.css))

    def node(one: Any) -> Any:
        if isinstance(one, Embed) and kept(one.code) != one.code:
            return msgspec.structs.replace(one, code="")
        return one

    site = map_nodes(site, node)
    replace = msgspec.structs.replace
    return replace(
        site, code=sound(site.code),
        folders=tuple(replace(folder, code=sound(folder.code)) for folder in site.folders),
        tracking=tuple(replace(code, on=code.on and bool(kept(code.html)))
                       for code in site.tracking),
        pages=tuple(page if page.code == NO_CODE else replace(page, code=sound(page.code))
                    for page in site.pages))
