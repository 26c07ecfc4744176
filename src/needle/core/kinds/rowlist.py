"""A list that fills itself: what rows of a table hold, each in a cell of one design."""

from collections.abc import Mapping
from typing import Annotated

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode, Wishes
from needle.core.markup.imagery import image
from needle.core.markup.markup import join, tag
from needle.core.markup.pricing import (
    PRICING_CSS,
    has_days,
    price_html,
    rating_html,
    stock_html,
)
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.media import Medium
from needle.core.values.node import Item
from needle.core.values.rows import Goods
from needle.core.values.strict import Slug, Strict, StyleKey, one_of, whole
from needle.core.values.tables import TableColumn
from needle.core.values.words import Run, Text, plain, text

__all__ = ["CHOICES", "KIND", "NEEDED", "OF_ITS_OWN", "RowEntry", "RowList"]

# Of the pictures in cells, and between those, in CSS pixels: as the rules below have them.
_RATIO, _GAP = 4 / 3, 24


class RowEntry(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """What one cell shows.

    Attributes:
        by: What visitors may filter it by; several with ", " between.
        page: The page of the row that the cell leads to; empty for none.
        slug: Its address.
        goods: What the row offers; `None` where no price is shown.
    """

    title: Text
    words: Text
    medium: Id = ""
    by: str = ""
    page: Id = ""
    slug: Slug = ""
    goods: Goods | None = None


CHOICES = {"": "all rows", "newest": "the newest", "sale": "what is on sale",
           "best": "what sells best", "featured": "what is shown first",
           "rated": "what is rated best", "related": "what is like the page's",
           "near": "what is near the page's", "seen": "what the visitor saw last"}
# Of these, what depends on the row of the page.
OF_ITS_OWN = ("related", "near")
# What one column at least has to mean for a choice.
NEEDED: Mapping[str, tuple[str, ...]] = {
    "newest": ("added",), "sale": ("sale",), "best": ("sold",), "featured": ("featured",),
    "near": ("north",)}


class RowList(Item, frozen=True, tag="rows"):
    """Cells of one design, one for each row of a table that is wanted.

    Attributes:
        title, words: What a cell says, with columns' values in it.
        picture: The column of the picture; empty for none.
        order: The column that rows are put in order by; empty for the table's own order.
        falling: Largest, latest or last letter first.
        most: So many rows at most; 0 for all.
        where, value: Only rows whose cell in that column is, or among its tags has, that value.
        same: Only rows that have the same in that column as the row of the page, without that row;
            on the page of another table's row, those that have that row there.
        choose: A key of `CHOICES`: by what columns mean. Without `order` they come in that order.
        leads: Each cell leads to the page that is made of its row.
        priced: Price, rating and what is sold out stand in each cell.
        nothing: What stands there when no row is wanted.
        by: The column that visitors may filter by; empty for none.
        search: Visitors may search in it.
        step: So many at once, until visitors ask for more; 0 for all.
        across: Cells in one line.
        entries: What the cells show. They are worked out, never kept.
    """

    table: Id = ""
    title: Text = ()
    words: Text = ()
    picture: Id = ""
    order: Id = ""
    falling: bool = False
    most: Annotated[int, whole(0, 500)] = 0
    where: Id = ""
    value: str = ""
    same: Id = ""
    choose: Annotated[str, one_of(*CHOICES)] = ""
    leads: bool = True
    priced: bool = True
    nothing: str = ""
    by: Id = ""
    search: bool = False
    step: Annotated[int, whole(0, 100)] = 0
    layout: Annotated[str, one_of("cards", "lines")] = "cards"
    across: Annotated[int, whole(1, 6)] = 3
    style: StyleKey = "minor"
    entries: tuple[RowEntry, ...] = ()


def _new(node_id: Id) -> RowList:
    return RowList(id=node_id, title=text("Name of the row"), words=text("What is said of it"))


def _suit(node: RowList, wishes: Wishes) -> RowList:
    """Return the list with the site's table: its name, the next text, its first picture."""
    table = wishes.table
    if table is None or not table.columns:
        return node
    name, *others = table.columns
    said = next((one for one in others if one.kind in ("text", "long", "money", "date")), None)
    shot = next((one for one in others if one.kind == "picture"), None)

    def sample(column: TableColumn) -> Text:
        words = next((cell for row in table.rows if (cell := table.cell(row, column.id))), "")
        return (Run(words or column.name, column=column.id),)

    return msgspec.structs.replace(
        node, table=table.id, title=sample(name), words=sample(said) if said else (),
        picture=shot.id if shot else "", most=6)


def _texts(_: RowList) -> dict[str, TextMode]:
    return {"title": "one", "words": "one"}


def _render(node: RowList, context: Surroundings) -> Markup:
    if node.choose == "seen":
        return _looked_back(node, context)
    if not node.entries:
        told = node.nothing
        if context.mode == "edit" and not told:
            told = "No row to show yet" if node.table else "No table chosen yet"
        attributes = context.attributes(node, "rows-none")
        return tag("p", attributes, told) if told else Markup("")
    attributes = context.attributes(node, f"rows rows-{node.layout}") | {
        "style": f"--across:{_across(node)}"}
    bar = _bar(node, context)
    inside = {name: attributes.pop(name) for name in ("class", "style")}
    if node.step and len(node.entries) > node.step:
        inside["data-step"] = node.step
        bar += tag("template", {}, context.words("rows-more"))
    if node.nothing and any(_sale_days(node, entry) for entry in node.entries) and (
            context.mode != "edit"):  # Told as long as none of the sales runs.
        waits = all(_sale_days(node, entry) for entry in node.entries)
        bar += tag("p", {"class": "rows-none", "hidden": not waits}, node.nothing)
    if not bar:
        return tag("ul", attributes | inside, _cells(node, context))
    # What belongs to it stands in one part.
    return tag("div", attributes, bar, tag("ul", inside, _cells(node, context)))


def _across(node: RowList) -> int:
    """Return how many cells stand in a line: no more than there are, but for a single one."""
    return min(node.across, max(2, len(node.entries)))


def _looked_back(node: RowList, context: Surroundings) -> Markup:
    """Return a list that the visitor's browser fills with what it was shown before."""
    attributes = context.attributes(node, "rows-back")
    told = tag("p", {"class": "rows-none"}, node.nothing) if node.nothing else ""
    if context.mode == "edit":
        told = tag("p", {"class": "rows-none"}, node.nothing or "What the visitor saw last")
    return tag("div", attributes, told, tag("ul", {
        "class": f"rows rows-{node.layout}", "style": f"--across:{node.across}",
        "data-seen": node.table, "data-most": node.most or 6,
        "data-rank": context.rank_below(node)}))


def _cells(node: RowList, context: Surroundings) -> Markup:
    return join(_cell(node, entry, number, context) for number, entry in enumerate(node.entries))


def _bar(node: RowList, context: Surroundings) -> Markup:
    """Return what visitors search and filter with; where no scripts run it is not shown."""
    parts = [tag("input", {"type": "search", "aria-label": context.words("rows-search"),
                           "placeholder": context.words("rows-search")})] if node.search else []
    kinds = dict.fromkeys(kind for entry in node.entries for kind in entry.by.split(", ") if kind)
    if node.by and len(kinds) > 1:
        offered = {"": context.words("rows-all"), **{kind: kind for kind in kinds}}
        parts.append(tag("div", {"class": "rows-kinds", "role": "group"}, join(
            tag("button", {"type": "button", "value": kind,
                           "aria-pressed": "false" if kind else "true"}, words)
            for kind, words in offered.items())))
    if not parts:
        return Markup("")
    none = tag("p", {"class": "rows-found", "role": "status", "hidden": True},
               context.words("rows-none"))
    return tag("div", {"class": "rows-bar"}, join(parts), none)


def _cell(node: RowList, entry: RowEntry, number: int, context: Surroundings) -> Markup:
    # The first cell is where the design of all is typed.
    typed = context.typed if number == 0 else None
    medium = context.medium(entry.medium)
    shown = image(medium, context, alt="", sizes=_sizes(node, medium, context)) if medium else ""
    said = words_html(entry.title, context)
    if entry.page and not (context.mode == "edit" and number == 0):
        said = tag("a", {"href": context.row_address(entry.page, entry.slug)}, said)
    title = tag(f"h{context.rank_below(node)}", {"class": f"rows-name t-{node.style}"} | (
        typed("title", "one") if typed else {}), said)
    words = tag("p", typed("words", "one") if typed else {}, words_html(entry.words, context)) \
        if typed or plain(entry.words).strip() else ""
    days = _sale_days(node, entry) if context.mode != "edit" else {}
    return tag("li", {"data-by": entry.by or None} | days, shown, title, words,
               _priced(entry.goods, context) if entry.goods is not None else "")


def _priced(goods: Goods, context: Surroundings) -> Markup:
    """Return the line of a cell that says what the row costs, what is left, how it is rated."""
    best = goods.best
    parts = [rating_html(goods, context)]
    if best is not None:
        more = any(one.price and one.price != best.price for one in goods.offers)
        parts = [price_html(best, context, begins=more),
                 stock_html(best, context, 0) if goods.sold_out else Markup(""), *parts]
    shown = [part for part in parts if part]
    return tag("p", {"class": "rows-price"}, Markup(" ").join(shown)) if shown else Markup("")


def _sale_days(node: RowList, entry: RowEntry) -> dict[str, str | int | bool | None]:
    """Return what hides a cell of a list of sales until its sale runs."""
    best = entry.goods.best if entry.goods is not None else None
    if node.choose != "sale" or best is None or not (best.starts or best.ends):
        return {}
    return {"data-sale-from": best.starts or None, "data-sale-until": best.ends or None,
            "hidden": True}


def _runtime(node: RowList, context: Surroundings) -> list[str]:
    """Return the scripts that it needs; one that visitors only look at needs none."""
    needs = {"rows": node.search or node.by or (node.step and len(node.entries) > node.step),
             "sale": any(has_days(entry.goods) for entry in node.entries),
             "seen": node.choose == "seen"}
    return [part for part, needed in needs.items() if needed]


def _sizes(node: RowList, medium: Medium, context: Surroundings) -> str:
    hidden = max(1, medium.width / medium.height / _RATIO) if medium.height else 1
    return context.sizes(node, hidden, _across(node) if node.layout == "cards" else 1, _GAP)


def _summary(node: RowList, context: Surroundings) -> str:
    return "no table chosen" if not node.table else (
        f"at most {counted(node.most, 'row')}" if node.most else "rows of a table")


KIND = Kind(
    purpose="Finding the way",
    about="Towns, products or dates from a table, each in a cell (catalogue, listing, grid)",
    type=RowList, label="Rows of a table", mark="rows", traits=TYPE_TRAITS, new=_new,
    render=_render, suit=_suit, texts=_texts, summary=_summary,
    reads=frozenset({Area.MEDIA, Area.LANGUAGE}), runtime=_runtime,
    fields=(
        Field(name="table", label="Table", editor="table", required=True),
        Field(name="picture", label="Picture", editor="column"),
        Field(name="leads", label="A cell", editor="choice",
              choices={True: "leads to its page", False: "leads nowhere"}),
        Field(name="layout", label="Cells", editor="choice",
              choices={"cards": "side by side", "lines": "one below another"}),
        Field(name="across", label="In one line", editor="number"),
        Field(name="priced", label="Prices", editor="choice",
              choices={True: "shown", False: "not shown"}),
        Field(name="choose", label="Show", editor="choice", choices=CHOICES, column="Which rows"),
        Field(name="order", label="Order by", editor="column", column="Which rows"),
        Field(name="falling", label="From", editor="choice", column="Which rows",
              choices={False: "first to last", True: "last to first"}),
        Field(name="most", label="At most", editor="number", column="Which rows"),
        Field(name="where", label="Only where", editor="column", column="Which rows"),
        Field(name="value", label="is", editor="line", column="Which rows"),
        Field(name="same", label="Same as page", editor="column", column="Which rows"),
        Field(name="step", label="At once", editor="number", column="Which rows"),
        Field(name="search", label="Visitors", editor="choice", column="Which rows",
              choices={False: "see all", True: "may search"}),
        Field(name="by", label="Filter by", editor="column", column="Which rows"),
        Field(name="nothing", label="If there is none", editor="line", column="Which rows")),
    css=(".rows{list-style:none;display:grid;gap:24px}.rows li{display:grid;gap:8px;"
         "align-content:start;position:relative}.rows-name,.rows p{margin:0}"
         ".rows img{display:block;width:100%;height:auto;aspect-ratio:4/3;object-fit:cover;"
         "border-radius:var(--corner-picture,0)}"
         ".rows a{color:inherit}.rows a::after{content:'';position:absolute;inset:0}"
         "@media(min-width:700px){.rows-cards{grid-template-columns:repeat(var(--across,3),"
         "minmax(0,1fr))}}"
         ".rows-bar{display:flex;flex-wrap:wrap;gap:10px;margin-bottom:20px}"
         "@media(scripting:none){.rows-bar{display:none}}"
         ".rows-bar input,.rows-bar button{font:inherit;min-height:44px;padding:0 14px;"
         "color:#14161c;background:#fff;border:1px solid #767b87;"
         "border-radius:var(--corner-small,5px)}.rows-bar button{cursor:pointer}"
         ".rows-kinds{display:flex;flex-wrap:wrap;gap:6px}"
         ".rows-bar [aria-pressed=true]{background:#14161c;color:#fff}"
         ".rows-bar p{flex-basis:100%;margin:0}"
         ".rows-lines li{border-bottom:1px solid color-mix(in srgb,currentColor 22%,transparent);"
         "padding-bottom:16px}.rows li[hidden]{display:none}"
         ".rows-price{display:flex;flex-wrap:wrap;gap:2px 12px;align-items:baseline}"
         ".rows-more{font:inherit;min-height:44px;margin-top:20px;padding:0 18px;color:inherit;"
         "background:none;border:1px solid currentColor;border-radius:var(--corner-small,5px);"
         "cursor:pointer}" + PRICING_CSS),
)
