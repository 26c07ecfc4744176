"""The page of one product or of a group of them: it shows the row that it is made for."""

from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.heading import Heading
from needle.core.kinds.trail import Trail
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section
from needle.core.values.look import Look

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "One product", 16
_CARD: Values = {"card": "theme", "fill": "paper", "colour": "ink"}


def _name(p: Parts, stock: Stock, kind: str, **look: str) -> Heading:
    return p.heading(stock.rows(kind).name(), rank=1, style="title", **look)


def thing_beside_pictures(p: Parts, stock: Stock) -> Section:
    """Its pictures to push along; beside them name, price, what is left, the button."""
    rows = stock.rows("goods")
    gone = p.passage("Sold out for now. Write to us and we say when it is back.", weight=600)
    rows.only(gone, "stock", "less", "1")
    return p.section("The thing", p.row(Trail(id=p.ids())), p.row(
        p.column(rows.gallery(p, "strip"), share=7),
        p.column(_name(p, stock, "goods"), p.passage(rows.line(), style="subtitle"),
                 GoodsBox(id=p.ids()), gone, p.button(stock.call, phone={"width": "full"}),
                 p.listing("When it arrives", "How long it can be sent back"), share=5, gap=16),
        level="start", gap=56, phone={"gap": 24}), gap=18)


def thing_in_a_card(p: Parts, stock: Stock) -> Section:
    """Name and picture large on a dark ground, the price in a card below."""
    rows = stock.rows("goods")
    return p.section("The thing", p.row(
        p.column(_name(p, stock, "goods"), p.passage(rows.line(), style="subtitle"), share=6,
                 gap=14),
        p.column(rows.picture(p), share=6), level="center", gap=48, phone={"gap": 24}),
        p.row(p.column(GoodsBox(id=p.ids(), style="title"),
                       p.button(stock.call, width="full"), gap=16, **_CARD)),
        fill="ink", colour="paper")


def thing_in_a_line(p: Parts, stock: Stock) -> Section:
    """A short page: name, one sentence, price and button in the middle, the pictures below."""
    rows = stock.rows("goods")
    return p.section("The thing", p.row(
        _name(p, stock, "goods", align="center"), p.passage(rows.line(), style="subtitle",
                                                      align="center"),
        GoodsBox(id=p.ids(), look=Look(base={"align": "center"})),
        p.button(stock.call, width="full"), gap=16),
        p.row(rows.gallery(p, "grid", 3)), inner=640)


def thing_told(p: Parts, stock: Stock) -> Section:
    """What a thing tells of itself, and what comes with it."""
    rows = stock.rows("goods")
    return p.section("Told", p.row(
        p.column(p.heading("What it is"), p.passage(rows.told()), share=7, gap=12),
        p.column(p.heading("What comes with it", style="minor"),
                 p.listing("The first thing in the box", "The second", "What is not in it"),
                 share=5, gap=12), gap=56, phone={"gap": 24}))


def group_opening(p: Parts, stock: Stock) -> Section:
    """What a group of things is for."""
    rows = stock.rows("groups")
    return p.section("The group", p.row(Trail(id=p.ids())), p.row(
        _name(p, stock, "groups"), p.passage(rows.told(), style="subtitle"), gap=14),
        inner=760, gap=18)


def group_things(p: Parts, stock: Stock) -> Section:
    """All that is in the group of the page; where nothing is, what to do instead."""
    rows, groups = stock.rows("goods"), stock.rows("groups")
    link = rows.link_to(groups.table)
    full = p.row(rows.listed(p, same=link, across=3, step=12))
    empty = p.row(p.column(
        p.heading("Nothing is in here just now", style="minor"),
        p.passage("Say when something comes, or where else to look."),
        p.button(stock.call), gap=12, **_CARD))
    groups.only_linked(full, link, "linked")
    groups.only_linked(empty, link, "unlinked")
    return p.section("In this group", full, empty)


SECTIONS = (("Beside its pictures", "product page gallery price options stock",
             thing_beside_pictures),
            ("On a dark ground", "product page price card", thing_in_a_card),
            ("In the middle", "product page short price", thing_in_a_line),
            ("Told in full", "product page description details", thing_told),
            ("A group", "category page", group_opening),
            ("What is in the group", "category page products list empty", group_things))
