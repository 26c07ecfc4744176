"""Packing lists and invoices as PDF, in the language of the site."""

from datetime import datetime
from decimal import Decimal

from needle.core.messages.message import say
from needle.core.shop.papers import Paper, paper_html
from needle.core.site.site import Site
from needle.core.tables.cells import amount_words
from needle.publish.pdf import pdf_of, report_fonts
from needle.store.results.ordered import Invoice, Order

__all__ = ["billed_to", "invoice_pdf", "packing_pdf"]


class _Words:
    """Words and amounts of an order in the language of its site."""

    def __init__(self, site: Site, order: Order) -> None:
        self._language, self._currency = site.language, order.currency

    def __call__(self, message: str, **values: str | int) -> str:
        return say(message, **values).in_language(self._language)

    def amount(self, words: str) -> str:
        """Return an amount as people read it."""
        return amount_words(f"{words} {self._currency}".strip(), self._language)


def packing_pdf(order: Order, site: Site) -> bytes:
    """Return what goes into a parcel, as PDF."""
    words = _Words(site, order)
    return _pdf(Paper(
        sender=site.shop.seller or site.name, to=billed_to(order),
        title=words("paper-packing", number=order.number),
        facts=[_day(order.at_ms), *([order.way] if order.way else [])],
        heads=[words("paper-thing"), words("paper-sku"), words("paper-pieces"),
               words("paper-packed")],
        rows=[(line.thing, line.sku, str(line.pieces), "[  ]") for line in order.lines]), site)


def invoice_pdf(order: Order, made: Invoice, site: Site) -> bytes:
    """Return an order's invoice, as PDF."""
    words = _Words(site, order)
    sums = [(words("cart-things"), words.amount(order.things))]
    if Decimal(order.discount):
        code = order.coupon.code if order.coupon is not None else ""
        sums.append((words("coupon-off", code=code), words.amount(order.off)))
    if order.way:
        sums.append((order.way, words.amount(order.carriage)))
    if order.tip is not None:
        sums.append((order.tip.name, words.amount(order.tip.amount)))
    for percent, net, tax in order.taxes:
        sums += [(words("paper-net", percent=percent), words.amount(net)),
                 (words("paper-tax", percent=percent), words.amount(tax))]
    sums.append((words("paper-total"), words.amount(order.total)))
    return _pdf(Paper(
        sender=site.shop.seller or site.name, to=made.to,
        title=words("paper-invoice", number=made.number),
        facts=[words("paper-of", day=_day(made.at_ms)),
               words("paper-order", number=order.number, day=_day(order.at_ms))],
        heads=[words("paper-thing"), words("paper-pieces"), words("paper-each"),
               words("paper-sum")],
        rows=[(line.thing, str(line.pieces), words.amount(line.unit), words.amount(line.total))
              for line in order.lines],
        sums=sums, close=[words("cart-reverse", number=order.firm)] if order.firm else []), site)


def billed_to(order: Order) -> str:
    """Return whom an order's papers name, as they wrote it: what stands in single lines."""
    lines = [words for _, words in order.answers if words.strip() and "\n" not in words
             and words != order.email]
    return "\n".join([*lines, *([order.firm] if order.firm else [])])


def _day(at_ms: int) -> str:
    return f"{datetime.fromtimestamp(at_ms / 1000):%Y-%m-%d}"


def _pdf(paper: Paper, site: Site) -> bytes:
    return pdf_of(paper_html(paper, site.language, report_fonts()))
