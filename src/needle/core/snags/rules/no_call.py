"""Pages that ask for nothing, though the brief names the one thing to ask for."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.goods import GoodsBox
from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site, Variant
from needle.core.snags.laid import LaidPage
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.form import ThankPage

__all__ = ["RULES"]


def _follows(page: Page, site: Site) -> bool:
    """Whether a page is shown after sending, when there is nothing left to ask for."""
    return any(isinstance(form.after, ThankPage) and form.after.page == page.id
               for form in site.forms)


def _look(page: Page, site: Site) -> Iterator[Spot]:
    """Yield pages without a form on which no button says the call to action of the brief."""
    call = site.brief.call_to_action.strip()
    if call and not _follows(page, site) and any(
            _unasked(variant, call) for variant in page.variants):
        yield Spot(f"No button says “{call}”, the call of the brief")


def _unasked(variant: Variant, call: str) -> bool:
    nodes = list(variant.nodes())
    buttons = [node for node in nodes if isinstance(node, Button)]
    said = any(call.casefold() in " ".join(plain_lines(node)).casefold() for node in buttons)
    return bool(buttons) and not said and not any(isinstance(node, FormBox) for node in nodes)


def _below(laid: LaidPage, page: Page, site: Site) -> Iterator[Spot]:
    """Yield pages whose every button and form stands below the first screen."""
    if _follows(page, site):
        return
    calls = {node.id for node in page.variant(laid.variant).nodes()
             if isinstance(node, Button | FormBox) or (isinstance(node, GoodsBox) and node.buys)}
    seen = [item.box.top for item in laid.items if item.node in calls]
    if seen and min(seen) >= laid.fold:
        yield Spot("Nothing to click or fill on the first screen",
                   note=f"{laid.width} px wide, first at {min(seen):,} px")


RULES = (
    Rule(id="no-call", weight=2, scope="page", look=_look, source="the brief",
         reads=frozenset({Area.BRIEF, Area.FORMS}),
         reason="A page with one plain call brings more leads than one that leaves it open."),
    Rule(id="call-below-first-screen", weight=3, scope="laid out", look=_below,
         reads=frozenset({Area.FORMS}), source="trade practice",
         reason="Many visitors never scroll."),
)
