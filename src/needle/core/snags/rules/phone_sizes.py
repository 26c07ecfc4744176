"""Words and buttons too small for a phone, and a logo that takes too much of its screen."""

from collections.abc import Iterator

from needle.core.edit.looks import resolved
from needle.core.kinds.button import Button
from needle.core.kinds.logo import Logo
from needle.core.kinds.passage import Passage
from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site
from needle.core.site.tree import Section
from needle.core.snags.laid import LaidItem, LaidPage
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.node import Node
from needle.core.values.widths import Width

__all__ = ["RULES"]

_LEAST_TYPE = 16
# Shorter ones are notes and small print, which nobody has to read through.
_READ_THROUGH = 25
# WCAG 2.2, success criterion 2.5.5, in CSS pixels.
_BUTTON_PX = 44
# Lower ones are said to be hard to hit by anybody.
_TARGET_PX = 24
_PHONE_PX = 600
_LOGO_SHARE = 0.2


def _small_type(at: ItemAt) -> Iterator[Spot]:
    top = at.path[0]
    if not isinstance(at.node, Passage) or (isinstance(top, Section) and top.role == "footer"):
        return
    size = resolved(at.site, at.node, "size", Width.PHONE)
    words = sum(len(line.split()) for line in plain_lines(at.node))
    if isinstance(size, int | float) and size < _LEAST_TYPE and words > _READ_THROUGH:
        yield Spot(f"{words} words at {size:g} px on the phone, needs {_LEAST_TYPE}",
                   width=Width.PHONE)


def _shown(laid: LaidPage, page: Page) -> Iterator[tuple[LaidItem, Node]]:
    """Yield what is laid out on a phone, with the node that it is."""
    if laid.width > _PHONE_PX:
        return
    nodes = {node.id: node for node in page.variant(laid.variant).nodes()}
    for item in laid.items:
        if item.node in nodes:
            yield item, nodes[item.node]


def _low_button(laid: LaidPage, page: Page, _site: Site) -> Iterator[Spot]:
    for item, node in _shown(laid, page):
        box = item.click or item.box
        if isinstance(node, Button) and _TARGET_PX <= box.height < _BUTTON_PX:
            yield Spot(f"A button of {box.height} px, needs {_BUTTON_PX} for a thumb", "node",
                       item.node, note=f"{laid.width} px wide", width=Width.PHONE)


def _large_logo(laid: LaidPage, page: Page, _site: Site) -> Iterator[Spot]:
    for item, node in _shown(laid, page):
        if isinstance(node, Logo) and item.box.top < laid.fold and (
                item.box.height > _LOGO_SHARE * laid.fold):
            share = round(100 * item.box.height / laid.fold)
            yield Spot(f"The logo takes {share} % of the first screen's height", "node",
                       item.node, note=f"{laid.width} px wide", width=Width.PHONE)


RULES = (
    Rule(id="small-type", setting="size", weight=3, scope="item", look=_small_type,
         reads=frozenset({Area.STYLES}), source="trade practice",
         reason="On a phone, smaller words are held closer to the eye or not read."),
    Rule(id="low-button", setting="pad_top", weight=3, scope="laid out", look=_low_button,
         source="WCAG 2.2, success criterion 2.5.5",
         reason="A thumb needs as much, above all where the one thing is asked for."),
    Rule(id="large-logo", setting="high", weight=3, scope="laid out", look=_large_logo,
         source="trade practice",
         reason="The first screen is for what visitors came for; they know where they are."),
)
