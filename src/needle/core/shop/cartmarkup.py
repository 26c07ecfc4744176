"""A cart as HTML, put by the host where the cart stands on a page."""

from collections.abc import Sequence
from decimal import Decimal
from typing import NamedTuple

from markupsafe import Markup

from needle.core.kinds.cart import CART_BEGINS, CART_ENDS
from needle.core.markup.markup import join, tag
from needle.core.messages.message import Message, say
from needle.core.shop.pricing import Line, Priced, Sold
from needle.core.tables.cells import amount_words, land_name
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.shop import MOST_PIECES, Shop

__all__ = ["Suggested", "cart_markup", "order_words", "with_cart"]

_ADDRESS = "/_needle/cart"


def with_cart(page: str, inside: str) -> str:
    """Return a page with the markup of a cart wherever the cart stands on it."""
    parts = page.split(CART_BEGINS)
    done = [parts[0]]
    for part in parts[1:]:
        _, ends, rest = part.partition(CART_ENDS)
        done += [inside, rest] if ends else [part]
    return "".join(done)


class _Words:
    """Words and amounts in the language of a site."""

    def __init__(self, language: Language, currency: str) -> None:
        self._language, self._currency = language, currency

    def __call__(self, message: str | Message, **values: str | int) -> str:
        told = say(message, **values) if isinstance(message, str) else message
        return told.in_language(self._language)

    def land(self, code: str) -> str:
        """Return the name of a country."""
        return land_name(code, self._language)

    def number(self, amount: Decimal) -> str:
        """Return an amount as visitors type it."""
        return amount_words(f"{amount:.2f}", self._language)

    def amount(self, amount: Decimal) -> str:
        """Return an amount as visitors read it."""
        return amount_words(f"{amount:.2f} {self._currency}".strip(), self._language)


class Suggested(NamedTuple):
    """Something that is offered with a cart.

    Attributes:
        by: As of a cart's line.
        price: What it costs then.
        before: What it costs else; `None` for the same.
        words: Why they might want it.
    """

    row: Id
    option: Id
    by: str
    sold: Sold
    price: Decimal
    before: Decimal | None = None
    words: str = ""


def cart_markup(found: Priced, shop: Shop, language: Language,
                suggested: Sequence[Suggested] = (), along: str = "") -> Markup:
    """Return what is in a cart: its lines, how it reaches its person, what it comes to, and what
    else they might want.

    Args:
        along: The address at which the same cart is on another device.
    """
    words = _Words(language, shop.currency)
    told = tag("div", {"role": "alert"}, join(
        tag("p", {}, words(one)) for one in found.troubles)) if found.troubles else Markup("")
    if not found.lines:
        return told + tag("p", {}, words("cart-empty")) + _clearing(found, words)
    rows = join(_row(number, line, words) for number, line in enumerate(found.lines))
    return told + tag(
        "form", {"method": "post", "action": _ADDRESS},
        tag("table", {}, tag("tbody", {}, rows)), _land(found, shop, words),
        _ways(found, words), _pays(found, shop, words), _tip(found, shop, words),
        _code(found, shop, words), _sums(found, shop, words),
        tag("button", {"type": "submit", "class": "button t-button b-second"},
            words("cart-again"))) + _suggestions(suggested, words) + (
        tag("details", {}, tag("summary", {}, words("cart-elsewhere")),
            tag("p", {}, tag("a", {"href": along}, along))) if along else Markup(""))


def _suggestions(suggested: Sequence[Suggested], words: _Words) -> Markup:
    if not suggested:
        return Markup("")
    return tag("p", {"class": "cart-more"}, tag("b", {}, words("cart-with"))) + join(
        tag("form", {"method": "post", "action": _ADDRESS, "class": "cart-offer"}, tag(
            "p", {}, tag("a", {"href": f"/{one.sold.slug}"}, one.sold.name), " ",
            tag("s", {}, words.amount(one.before)) + " " if one.before is not None else "",
            words.amount(one.price), tag("br", {}) + one.words if one.words else ""),
            *(tag("input", {"type": "hidden", "name": name, "value": value}) for name, value in (
                ("row", one.row), ("option", one.option), ("by", one.by)) if value),
            tag("button", {"type": "submit", "class": "button t-button b-second",
                           "aria-label": f"{words('cart-add')}: {one.sold.name}"},
                words("cart-add"))) for one in suggested)


def _clearing(found: Priced, words: _Words) -> Markup:
    if not found.gone:
        return Markup("")
    return tag("form", {"method": "post", "action": _ADDRESS},
               tag("button", {"type": "submit", "class": "button t-button b-second"},
                   words("cart-clear")))


def _row(number: int, line: Line, words: _Words) -> Markup:
    name = line.sold.name
    field = f"cart-line-{number}"
    count = tag("input", {"type": "number", "name": f"line.{line.line.key}", "id": field,
                          "value": line.line.pieces, "min": 0, "max": MOST_PIECES,
                          "inputmode": "numeric", "aria-label": f"{words('cart-count')}: {name}"})
    return tag("tr", {}, tag("td", {}, count),
               tag("td", {}, tag("a", {"href": f"/{line.sold.slug}"}, name)),
               tag("td", {}, words.amount(line.unit)), tag("td", {}, words.amount(line.total)))


def _land(found: Priced, shop: Shop, words: _Words) -> Markup:
    """Ask where it goes to, and, where that matters, for which business."""
    if len(shop.lands) < 2:
        return Markup("")
    lands = join(tag("option", {"value": one.code, "selected": one.code == found.land},
                     words.land(one.code)) for one in shop.lands)
    asked = tag("label", {}, words("cart-land"), tag("select", {"name": "land"}, lands))
    if not shop.reverse:
        return asked
    return asked + tag("label", {}, words("cart-firm-number"), tag("input", {
        "type": "text", "name": "firm", "value": found.firm, "maxlength": 20,
        "autocomplete": "off", "spellcheck": "false"}))


def _ways(found: Priced, words: _Words) -> Markup:
    if not found.ways:
        return Markup("")
    choices = join(tag("label", {}, tag("input", {
        "type": "radio", "name": "way", "value": way.id,
        "checked": found.way is not None and way.id == found.way.id}),
        tag("span", {}, way.name), words.amount(cost)) for way, cost in found.ways)
    return tag("fieldset", {}, tag("legend", {}, words("cart-way")), choices)


def _pays(found: Priced, shop: Shop, words: _Words) -> Markup:
    if len(shop.pays) < 2:
        return Markup("")
    choices = join(tag("label", {}, tag("input", {
        "type": "radio", "name": "pay", "value": pay.id,
        "checked": found.pay is not None and pay.id == found.pay.id}),
        tag("span", {}, pay.name)) for pay in shop.pays)
    return tag("fieldset", {}, tag("legend", {}, words("cart-pay")), choices)


def _tip(found: Priced, shop: Shop, words: _Words) -> Markup:
    if not shop.tip:
        return Markup("")
    return tag("label", {}, shop.tip, tag("input", {
        "type": "text", "name": "tip", "value": words.number(found.tip) if found.tip else "",
        "maxlength": 12, "inputmode": "decimal", "autocomplete": "off"}))


def _code(found: Priced, shop: Shop, words: _Words) -> Markup:
    if not shop.coupons:
        return Markup("")
    held = found.coupon.code if found.coupon is not None else ""
    return tag("label", {}, words("coupon"), tag("input", {
        "type": "text", "name": "code", "value": held, "maxlength": 24, "autocomplete": "off",
        "autocapitalize": "characters", "spellcheck": "false"}))


def _rows(found: Priced, shop: Shop, words: _Words) -> list[tuple[str, Decimal, bool]]:
    """Return what a cart comes to, line by line: name, amount, and whether it is the total."""
    rows = []
    if found.off:
        code = found.coupon.code if found.coupon is not None else ""
        rows.append((words("coupon-off", code=code), -found.off, False))
    if found.way is not None:
        rows.append((found.way.name, found.carriage, False))
    if found.untaxed:
        rows.append((words("cart-untaxed"), -found.untaxed, False))
    if found.tip:
        rows.append((shop.tip, found.tip, False))
    told = [(words("cart-tax-in" if shop.included else "cart-tax-on", percent=one.percent),
             one.tax, False) for one in found.taxes if one.tax]
    total = (words("cart-total"), found.total, True)
    return [*rows, *((total, *told) if shop.included else (*told, total))]


def _sums(found: Priced, shop: Shop, words: _Words) -> Markup:
    rows = [(words("cart-things"), found.things, False), *_rows(found, shop, words)]
    return tag("dl", {}, join(
        tag("dt", {}, tag("b", {}, name) if main else name)
        + tag("dd", {}, tag("b", {}, words.amount(amount)) if main else words.amount(amount))
        for name, amount, main in rows))


def order_words(found: Priced, shop: Shop, language: Language) -> str:
    """Return what is ordered, in lines of words, as it stands in letters and in the lead."""
    words = _Words(language, shop.currency)
    lines = [f"{line.line.pieces} × {line.sold.name}: {words.amount(line.total)}"
             for line in found.lines]
    lines += [f"{name}: {words.amount(amount)}" for name, amount, _ in _rows(found, shop, words)]
    if found.reverse:
        lines.append(words("cart-reverse", number=found.firm))
    if found.pay is not None:
        lines += [f"{words('cart-pay')}: {found.pay.name}",
                  *filter(None, found.pay.words.splitlines())]
    return "\n".join(lines)
