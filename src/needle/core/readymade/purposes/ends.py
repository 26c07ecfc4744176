"""What stands at the top and the foot of every page."""

from needle.core.kinds.menu import Menu
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section
from needle.core.values.look import Look

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Header and footer", 13


def header_with_menu(p: Parts, stock: Stock) -> Section:
    """The name at the left, the menu at the right."""
    menu = Menu(id=p.ids(), pages=stock.pages, look=Look(base={"place": "right"}))
    return p.section("Header", p.row(
        p.column(p.passage(stock.name, weight=600), share=4), p.column(menu, share=8),
        stack="never", level="center"), role="header", space="narrow")


def header_plain(p: Parts, stock: Stock) -> Section:
    """The name alone: a landing page leads nowhere else."""
    return p.section("Header", p.row(p.passage(stock.name, weight=600, align="theme")),
                     role="header", space="narrow")


def footer_plain(p: Parts, stock: Stock) -> Section:
    """One line with what the law asks for."""
    return p.section("Footer", p.row(
        p.column(p.passage(f"{stock.name}. Street, town, who answers for it.", style="small")),
        p.column(p.passage("Imprint · Privacy", style="small", align="right"),
                 phone={"align": "left"})), role="footer", fill="ink", colour="paper",
        space="narrow")


def footer_three_columns(p: Parts, stock: Stock) -> Section:
    """Who, where and when, in three columns."""
    columns = [p.column(p.heading(title, rank=2, style="minor"),
                        p.passage(*lines, style="small"), gap=6)
               for title, lines in ((stock.name, ("One sentence on what this is.",)),
                                    ("Where", ("Street and number", "Town")),
                                    ("When", ("Thursday to Sunday", "From dusk")))]
    return p.section("Footer", p.row(*columns, gap=40), role="footer", fill="ink",
                     colour="paper")


SECTIONS = (("Header with menu", "navigation logo top", header_with_menu),
            ("Header, plain", "logo top no menu", header_plain),
            ("Footer, one line", "imprint legal bottom", footer_plain),
            ("Footer, three columns", "imprint contact address bottom", footer_three_columns))
