"""A price table: what each offer costs, what is in it, and what is not."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html, words_html
from needle.core.values.actions import Action
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, StyleKey, whole
from needle.core.values.styletable import ground_css
from needle.core.values.words import Text, text

__all__ = ["KIND", "Offer", "Prices"]


class Offer(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One offer.

    Attributes:
        period: What the price is for: "a month", "for two".
        included: What one gets, a line each.
        missing: What one does not get, a line each; it is shown, with crosses.
        button: The words of its button.
    """

    title: Text
    price: Text
    period: Text
    included: tuple[Text, ...]
    missing: tuple[Text, ...]
    button: Text


class Prices(Item, frozen=True, tag="prices"):
    """Offers side by side; on a phone one below the other.

    Attributes:
        recommended: Which offer stands out, counted from 1; 0 for none.
        actions: What a click on any of the buttons does.
    """

    entries: tuple[Offer, ...] = ()
    recommended: Annotated[int, whole(0, 12)] = 0
    actions: tuple[Action, ...] = ()
    style: StyleKey = "small"


_TEXTS: dict[str, TextMode] = {"title": "one", "price": "one", "period": "one",
                               "included": "lines", "missing": "lines", "button": "one"}


def _entry() -> Offer:
    return Offer(text("An offer"), text("£20"), text("for one"),
                 (text("The first thing in it"), text("The second")),
                 (text("What is not in it"),), text("Take this one"))


def _new(node_id: Id) -> Prices:
    return Prices(id=node_id, entries=(_entry(), _entry()), recommended=2)


def _texts(node: Prices) -> dict[str, TextMode]:
    return {f"entries.{number}.{name}": mode for number in range(len(node.entries))
            for name, mode in _TEXTS.items()}


def _render(node: Prices, context: Surroundings) -> Markup:
    offers = join(_offer(node, number, context) for number in range(len(node.entries)))
    return tag("div", context.attributes(node, f"prices t-{node.style}"), offers)


def _offer(node: Prices, number: int, context: Surroundings) -> Markup:
    offer, path = node.entries[number], f"entries.{number}"
    best = number + 1 == node.recommended

    def part(name: str, element: str, css: str) -> Markup:
        return tag(element, {"class": css} | context.typed(f"{path}.{name}", "one"),
                   words_html(getattr(offer, name), context))

    button = {"class": f"button t-button b-{'main' if best else 'second'}"}
    return tag(
        "div", {"class": "offer offer-best" if best else "offer"},
        tag("p", {"class": "offer-mark"}, context.words("price-best")) if best else "",
        part("title", "p", "offer-title"), part("price", "p", "offer-price"),
        part("period", "p", "offer-period"),
        _lines(offer.included, f"{path}.included", "offer-in", "price-included", context),
        _lines(offer.missing, f"{path}.missing", "offer-out", "price-missing", context),
        tag("a", button | context.click(node.actions) | context.typed(f"{path}.button", "one"),
            words_html(offer.button, context)))


def _lines(lines: tuple[Text, ...], path: str, css: str, label: str, context: Surroundings,
           ) -> Markup:
    if not lines and context.mode != "edit":
        return Markup("")
    named = {"class": css, "aria-label": context.words(label)}
    return tag("ul", named | context.typed(path, "lines"), lines_html(lines, context, "li"))


KIND = Kind(
    purpose="To act on",
    about="Offers side by side, with what each holds (plans, packages)",
    type=Prices, label="Price table", mark="prices", new=_new, render=_render, texts=_texts,
    traits=TYPE_TRAITS, needs=frozenset({"button"}), reads=frozenset({Area.LANGUAGE}),
    summary=lambda node, context: f"{len(node.entries)} offers",
    cuts=frozenset({("heading", 600), ("body", 600)}),
    fields=(
        Field(name="entries", label="Offers", editor="entries", new_entry=_entry),
        Field(name="recommended", label="Stands out", editor="number"),
        Field(name="style", label="Style", editor="style"),
        Field(name="actions", label="When clicked", editor="actions", required=True)),
    css=(".prices{display:grid;gap:20px;align-items:center;"
         "grid-template-columns:repeat(auto-fit,minmax(min(100%,220px),1fr))}"
         ".offer{display:grid;gap:8px;padding:var(--card-pad,26px 24px);"
         "border-radius:var(--corner,8px);color:var(--t-ink);"
         f"background-color:var(--c-paper);{ground_css('paper')};border:1px solid "
         "color-mix(in srgb,var(--c-ink) 18%,transparent)}"
         ".offer-best{border:2px solid var(--c-main);padding-block:34px}"
         ".offer-mark{justify-self:start;padding:2px 10px;font-weight:600;"
         "border-radius:var(--corner-small,4px);"
         f"background-color:var(--c-main);color:var(--t-on_main);{ground_css('main')}}}"
         ".offer-title{font-weight:600;font-size:1.2em}"
         ".offer-price{font:600 40px/1.1 var(--f-heading)}"
         ".offer ul{list-style:none;display:grid;gap:6px;padding-left:1.6em}"
         ".offer li{position:relative}.offer li::before{content:'';position:absolute}"
         ".offer-in li::before{left:-1.4em;top:.3em;width:.36em;height:.72em;border:solid;"
         "border-width:0 .15em .15em 0;transform:rotate(42deg)}"
         ".offer-out li::before{left:-1.55em;top:.3em;width:.9em;height:.9em;"
         "background:linear-gradient(45deg,#0000 44%,currentColor 44% 56%,#0000 56%),"
         "linear-gradient(-45deg,#0000 44%,currentColor 44% 56%,#0000 56%)}"
         ".offer .button{width:100%;margin-top:8px}"),
)
