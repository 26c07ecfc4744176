"""Lists of products: what is new, on sale, sold most; all of them to look through."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Products", 15


def newest_things(p: Parts, stock: Stock) -> Section:
    """The newest four, side by side."""
    return p.section("New", p.row(p.heading("New here")), p.row(
        stock.rows("goods").listed(p, choose="newest", most=4, across=4)))


def things_on_sale(p: Parts, stock: Stock) -> Section:
    """What is on sale, on a ground of its own; nothing of it shows outside its days."""
    return p.section("On sale", p.row(
        p.heading("For less, while it lasts"),
        p.passage("Until when, and why.", style="small"), gap=8), p.row(
        stock.rows("goods").listed(p, choose="sale", most=6, across=3,
                                   nothing="Nothing is on sale just now.")),
        fill="main", colour="ink")


def best_sellers(p: Parts, stock: Stock) -> Section:
    """What sells best, one below another, with what people say beside the list."""
    rows = stock.rows("goods").listed(p, choose="best", most=4, layout="lines", picture="")
    return p.section("Sells best", p.row(
        p.column(p.heading("What most people take home"),
                 p.passage("Say in two sentences what they all have in common.",
                           style="subtitle"), share=5, gap=12),
        p.column(rows, share=7), gap=56, phone={"gap": 24}))


def shown_first(p: Parts, stock: Stock) -> Section:
    """Two things, large."""
    return p.section("First", p.row(p.heading("Begin with these", align="theme")), p.row(
        stock.rows("goods").listed(p, choose="featured", most=2, across=2, style="subtitle")))


def best_rated(p: Parts, stock: Stock) -> Section:
    """What is rated best, on a dark ground."""
    return p.section("Rated best", p.row(p.heading("Rated best by those who have it")), p.row(
        stock.rows("goods").listed(p, choose="rated", most=3, across=3)),
        fill="ink", colour="paper")


def goes_well_with_it(p: Parts, stock: Stock) -> Section:
    """On the page of one thing: what is like it."""
    return p.section("Goes well with it", p.row(p.heading("Goes well with it",
                                                          style="minor")), p.row(
        stock.rows("goods").listed(p, choose="related", most=4, across=4)), space="narrow")


def seen_before(p: Parts, stock: Stock) -> Section:
    """What the visitor saw last, in small."""
    return p.section("Seen before", p.row(
        p.heading("What you looked at", style="minor"),
        stock.rows("goods").listed(p, choose="seen", most=6, across=6,
                                   nothing="Nothing yet in this visit.")), space="narrow")


def all_things(p: Parts, stock: Stock) -> Section:
    """Everything, with a search and the groups to choose from, a dozen at once."""
    rows = stock.rows("goods")
    groups = stock.rows("groups")
    return p.section("All of it", p.row(p.heading("Everything we have")), p.row(rows.listed(
        p, across=3, search=True, step=12, by=rows.link_to(groups.table) or rows.column_of("tags"),
        nothing="Nothing is for sale just now.")))


def all_groups(p: Parts, stock: Stock) -> Section:
    """The groups, each with its picture; a click leads to what is in it."""
    return p.section("Groups", p.row(p.heading("What are you looking for?", align="theme")), p.row(
        stock.rows("groups").listed(p, across=3, priced=False)))


SECTIONS = (("The newest", "product new arrivals list", newest_things),
            ("On sale", "product offers reduced discount list", things_on_sale),
            ("What sells best", "product best selling popular list", best_sellers),
            ("Two shown first", "product featured list", shown_first),
            ("Rated best", "product top rated reviews list", best_rated),
            ("Goes well with it", "product related cross list", goes_well_with_it),
            ("Seen before", "product recently viewed list", seen_before),
            ("All to look through", "product shop catalogue search filter list", all_things),
            ("The groups", "product categories shop list", all_groups))
