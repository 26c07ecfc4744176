"""Letting a snag pass, for one item or for one rule on a page; and taking that back."""

from collections.abc import Sequence

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.core.values.passing import LONGEST_REASON, Passed

__all__ = ["let_pass", "page_of", "sorted_out", "take_back"]


def page_of(site: Site, snag: Snag) -> Id:
    """Return the page that a snag is on; empty for one of a form."""
    if snag.kind == "page":
        return snag.target
    if snag.kind == "node":
        for page in site.pages:
            if any(node.id == snag.target for variant in page.variants
                   for node in variant.nodes()):
                return page.id
    return ""


def let_pass(site: Site, snag: Snag, reason: str, on_page: bool = False) -> Site:
    """Return the site with a snag let be.

    Args:
        on_page: Whatever its rule says on this page is let be, not this one thing alone.

    Raises:
        EditError: There is no reason, or the snag is on no page.
    """
    why = " ".join(reason.split())[:LONGEST_REASON]
    if not why:
        raise EditError("pass-needs-reason")
    page = page_of(site, snag) if on_page else ""
    if on_page and not page:
        raise EditError("pass-no-page")
    fresh = Passed(snag.rule, page, "", why) if on_page else Passed(
        snag.rule, snag.target, snag.words, why)
    others = tuple(one for one in site.passed
                   if (one.rule, one.target, one.words) != (fresh.rule, fresh.target, fresh.words))
    return msgspec.structs.replace(site, passed=(*others, fresh))


def take_back(site: Site, passed: Passed) -> Site:
    """Return the site in which this is heard again."""
    return msgspec.structs.replace(site, passed=tuple(
        one for one in site.passed if one != passed))


def sorted_out(site: Site, snags: Sequence[Snag],
               ) -> tuple[list[Snag], list[tuple[Passed, Snag]]]:
    """Return the snags that are open, and those that are let pass with the word for each."""
    exact = {(one.rule, one.target, one.words): one for one in site.passed if one.words}
    whole = {(one.rule, one.target): one for one in site.passed if not one.words}
    rules = {rule for rule, _ in whole}
    still, passed = [], []
    for snag in snags:
        word = exact.get((snag.rule, snag.target, snag.words))
        if word is None and snag.rule in rules:
            word = whole.get((snag.rule, page_of(site, snag)))
        if word is None:
            still.append(snag)
        else:
            passed.append((word, snag))
    return still, passed
