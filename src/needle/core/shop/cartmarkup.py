"""A cart as HTML, put by the host where the cart stands on a page."""

from decimal import Decimal

from markupsafe import Markup

from needle.core.kinds.cart import CART_BEGINS, CART_ENDS
from needle.core.markup.markup import join, tag
from needle.core.messages.message import Message, say
from needle.core.shop.pricing import Line, Priced
from needle.core.tables.cells import amount_words
from needle.core.values.language import Language
from needle.core.values.shop import MOST_PIECES, Shop

__all__ = ["cart_markup", "order_words", "with_cart"]

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

    def amount(self, amount: Decimal) -> str:
        """Return an amount as visitors read it."""
        return amount_words(f"{amount:.2f} {self._currency}".strip(), self._language)


def cart_markup(found: Priced, shop: Shop, language: Language) -> Markup:
    """Return what is in a cart: its lines, how it reaches its person, what it comes to."""
    words = _Words(language, shop.currency)
    told = tag("div", {"role": "alert"}, join(
        tag("p", {}, words(one)) for one in found.troubles)) if found.troubles else Markup("")
    if not found.lines:
        return told + tag("p", {}, words("cart-empty")) + _clearing(found, words)
    rows = join(_row(number, line, words) for number, line in enumerate(found.lines))
    return told + tag(
        "form", {"method": "post", "action": _ADDRESS},
        tag("table", {}, tag("tbody", {}, rows)), _ways(found, shop, words),
        _code(found, shop, words),
        _sums(found, shop, words),
        tag("button", {"type": "submit", "class": "button t-button b-second"},
            words("cart-again")))


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


def _ways(found: Priced, shop: Shop, words: _Words) -> Markup:
    if not shop.ways:
        return Markup("")
    choices = join(tag("label", {}, tag("input", {
        "type": "radio", "name": "way", "value": way.id,
        "checked": found.way is not None and way.id == found.way.id}),
        tag("span", {}, way.name), words.amount(way.costs(found.things))) for way in shop.ways)
    return tag("fieldset", {}, tag("legend", {}, words("cart-way")), choices)


def _code(found: Priced, shop: Shop, words: _Words) -> Markup:
    if not shop.coupons:
        return Markup("")
    held = found.coupon.code if found.coupon is not None else ""
    return tag("label", {}, words("coupon"), tag("input", {
        "type": "text", "name": "code", "value": held, "maxlength": 24, "autocomplete": "off",
        "autocapitalize": "characters", "spellcheck": "false"}))


def _sums(found: Priced, shop: Shop, words: _Words) -> Markup:
    sums = [(words("cart-things"), found.things)]
    if found.off:
        sums.append((words("coupon-off", code=found.coupon.code if found.coupon else ""),
                     -found.off))
    if found.way is not None:
        sums.append((found.way.name, found.carriage))
    tax = [(words("cart-tax-in" if shop.included else "cart-tax-on", percent=shop.tax),
            found.tax)] if shop.tax else []
    lines = [tag("dt", {}, name) + tag("dd", {}, words.amount(amount)) for name, amount in sums]
    told = [tag("dt", {}, name) + tag("dd", {}, words.amount(amount)) for name, amount in tax]
    total = tag("dt", {}, tag("b", {}, words("cart-total"))) + tag(
        "dd", {}, tag("b", {}, words.amount(found.total)))
    return tag("dl", {}, join([*lines, *([total, *told] if shop.included else [*told, total])]))


def order_words(found: Priced, shop: Shop, language: Language) -> str:
    """Return what is ordered, in lines of words, as it stands in letters and in the lead."""
    words = _Words(language, shop.currency)
    lines = [f"{line.line.pieces} × {line.sold.name}: {words.amount(line.total)}"
             for line in found.lines]
    if found.off:
        code = found.coupon.code if found.coupon is not None else ""
        lines.append(f"{words('coupon-off', code=code)}: {words.amount(-found.off)}")
    if found.way is not None:
        lines.append(f"{found.way.name}: {words.amount(found.carriage)}")
    if shop.tax and not shop.included:
        lines.append(f"{words('cart-tax-on', percent=shop.tax)}: {words.amount(found.tax)}")
    lines.append(f"{words('cart-total')}: {words.amount(found.total)}")
    if shop.tax and shop.included:
        lines.append(f"{words('cart-tax-in', percent=shop.tax)}: {words.amount(found.tax)}")
    return "\n".join(lines)
