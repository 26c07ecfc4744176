"""What changed between a page as it was sent and as it is, in words."""

from collections.abc import Iterator, Sequence

import msgspec

from needle.core.render.holders import kind_of
from needle.core.site.site import Brand, Code, Page, Site, TextStyle, Variant
from needle.core.site.tree import Section, walk
from needle.core.values.form import Form
from needle.core.values.node import Node
from needle.core.values.tracking import Consent, TrackingCode

__all__ = ["Sent", "as_sent", "changes_since"]


class Sent(msgspec.Struct, frozen=True):
    """A page when it was sent, with all of the site that it drew on."""

    page: Page
    brand: Brand
    styles: tuple[TextStyle, ...]
    forms: tuple[Form, ...]
    codes: tuple[Code, ...] = ()
    tracking: tuple[TrackingCode, ...] = ()
    consent: Consent = Consent()


def as_sent(site: Site, page: Page) -> Sent:
    """Return what is kept of a page when it is sent."""
    return Sent(page, site.brand, site.styles, site.forms, site.codes(page),
                site.tracking_on(page), site.consent)


def changes_since(sent: Sent, now: Sent) -> list[str]:
    """Return what a visitor would notice, most telling first; nothing if it is the same."""
    found = [*_page_changes(sent.page, now.page)]
    if sent.brand != now.brand:
        found.append("brand")
    if sent.styles != now.styles:
        found.append("text styles")
    if _said(sent.codes) != _said(now.codes):
        found.append("outside code")
    if (sent.tracking, sent.consent) != (now.tracking, now.consent):
        found.append("tracking codes")
    used = {getattr(node, "form", "") for v in now.page.variants for node in v.nodes()} - {""}
    before = {form.id: form for form in sent.forms}
    found.extend(f"form {form.name}" for form in now.forms
                 if form.id in used and before.get(form.id) != form)
    return found


def _said(codes: Sequence[Code]) -> list[Code]:
    """The codes that hold anything; pages sent before there were codes have none."""
    return [code for code in codes if code != Code()]


def _page_changes(old: Page, new: Page) -> Iterator[str]:
    if old.slug != new.slug:
        yield f"address was /{old.slug}"
    if (old.title, old.description) != (new.title, new.description):
        yield "title or description"
    if old.letter_width != new.letter_width:
        yield "letter width"
    before = {variant.key: variant for variant in old.variants}
    tested = new.tested
    for variant in new.variants:
        was = before.get(variant.key)
        if was is None:
            yield f"variant {variant.key} added"
            continue
        where = f" in {variant.key}" if tested else ""
        yield from (f"{change}{where}" for change in _variant_changes(was, variant))
    for key in sorted(before.keys() - {variant.key for variant in new.variants}):
        yield f"variant {key} archived"
    shares = [(v.key, v.share) for v in new.variants]
    if tested and sorted(shares) != sorted((v.key, v.share) for v in old.variants):
        yield "shares"


def _variant_changes(old: Variant, new: Variant) -> Iterator[str]:
    before = {node.id: node for node in old.nodes()}
    after = {node.id: node for node in new.nodes()}
    for noun, gone in (("added", after.keys() - before.keys()),
                       ("removed", before.keys() - after.keys())):
        source = after if noun == "added" else before
        sections = [i for i in gone if isinstance(source[i], Section)]
        inner = {n.id for i in sections for n in walk(source[i])}
        loose = [i for i in gone if i not in inner and not hasattr(source[i], "children")]
        if sections:
            yield f"{_count(len(sections), 'section')} {noun}"
        if loose:
            yield f"{_count(len(loose), 'item')} {noun}"
    yield from _by_kind([(before[i], after[i]) for i in after if i in before])
    if [s.id for s in old.children if s.id in after] != [
            s.id for s in new.children if s.id in before]:
        yield "order of sections"


def _by_kind(pairs: Sequence[tuple[Node, Node]]) -> Iterator[str]:
    counts: dict[str, int] = {}
    for old, new in pairs:
        if old is new or _bare(old) == _bare(new):
            continue
        same_words = getattr(old, "words", None) == getattr(new, "words", None)
        what = kind_of(new).label.lower()
        counts[what if same_words else f"words of {what}"] = counts.get(what, 0) + 1
    for what, count in counts.items():
        yield what if count == 1 else f"{what} ({count})"


def _bare(node: Node) -> Node:
    return msgspec.structs.replace(node, children=()) if hasattr(node, "children") else node


def _count(number: int, noun: str) -> str:
    return f"1 {noun}" if number == 1 else f"{number} {noun}s"
