"""Tables of samples, which ready-made lists and pages show until there are rows of one's own."""

from collections.abc import Mapping, Sequence

from needle.core.values.ids import Id, IdSource
from needle.core.values.tables import Table, TableColumn, TableRow

__all__ = ["SAMPLE_ROWS", "sample_table"]

_Columns = Sequence[tuple[str, str, str]]
# Name, kind and meaning of each column, and the rows; {n} stands for the name of a picture.
_GROUPS: tuple[str, _Columns, Sequence[str]] = (
    "Groups", (("Group", "text", ""), ("In a line", "text", ""), ("Told", "long", ""),
               ("Picture", "picture", "")),
    ("The first group|What belongs in it.|What things of this sort are for, who takes them, and "
     "how to choose one.|{0}",
     "The second group|What belongs in it.|What sets these apart from the first sort, in two or "
     "three sentences.|{1}",
     "The third group|What belongs in it.|For whom this is the right sort, and for whom it is "
     "not.|{2}"))
_GOODS: tuple[str, _Columns, Sequence[str]] = (
    "Things", (("Thing", "text", ""), ("Price", "money", "price"), ("Sale price", "money", "sale"),
               ("Stock", "number", "stock"), ("Group", "link", ""), ("Tags", "tags", ""),
               ("Since", "date", "added"), ("Sold", "number", "sold"), ("First", "yes", "featured"),
               ("Rating", "number", "rating"), ("Ratings", "number", "ratings"),
               ("In a line", "text", ""), ("Told", "long", ""), ("Pictures", "pictures", "")),
    ("The first thing|24.00 GBP||12|The first group|small, quick|2027-03-01|40|yes|4.6|23|"
     "What it does, in a line.|What it is made of, how it is used, and what it spares whoever has "
     "it.|{0}; {1}; {2}",
     "The second thing|31.50 GBP|26.00 GBP|3|The first group|small, quiet|2027-02-01|75|yes|4.8|31|"
     "What it does, in a line.|What sets it apart from the first, and for whom that matters.|"
     "{1}; {2}; {0}",
     "The third thing|12.00 GBP||0|The second group|large|2027-01-15|120||4.1|9|"
     "What it does, in a line.|What comes with it, and what does not.|{2}; {0}",
     "The fourth thing|48.00 GBP|40.00 GBP||The second group|large, quiet|2026-11-20|8|||"
     "|What it does, in a line.|How long it lasts, and what is done if it does not.|{3}; {1}",
     "The fifth thing|9.00 GBP||60|The third group|small|2026-10-02|210|yes|4.9|88|"
     "What it does, in a line.|Why most people begin with this one.|{4}; {2}",
     "The sixth thing|64.00 GBP||5|The third group|large, quick|2026-09-12|17|||"
     "|What it does, in a line.|Whom it is made for, and what they say of it.|{5}; {3}"))
_PLACES: tuple[str, _Columns, Sequence[str]] = (
    "Places", (("Place", "text", ""), ("Region", "choice", ""), ("Key phrase", "text", ""),
               ("In a line", "text", ""), ("Told", "long", ""), ("Street", "text", ""),
               ("Telephone", "text", ""), ("Open", "text", ""), ("Way", "text", ""),
               ("North", "number", "north"), ("East", "number", "east"),
               ("Picture", "picture", "")),
    ("The first place|The north|what is looked for there|What is special here, in a line.|What "
     "only somebody from this place would say of it: a street, a view, a habit.|1 Long Lane|"
     "+44 1632 960001|Mo-Fr 09:00-17:00|Two minutes from the square.|54.1|-1.2|{0}",
     "The second place|The north|what is looked for next|What is special here, in a line.|What "
     "is done otherwise here, and why people come from the first place for it.|2 Mill Road|"
     "+44 1632 960002|Mo-Sa 10:00-18:00|Above the old mill.|54.2|-1.3|{1}",
     "The third place|The south|what is looked for in the south|What is special here, in a "
     "line.|Who works here, since when, and what they are known for.|3 Harbour Wall|"
     "+44 1632 960003|Tu-Su 08:00-16:00|Where the ferry lands.|53.8|-1.1|{2}"))
_SAMPLES: Mapping[str, tuple[str, _Columns, Sequence[str]]] = {
    "goods": _GOODS, "groups": _GROUPS, "places": _PLACES}
# What sample rows are called, so that nobody publishes one unasked.
SAMPLE_ROWS = frozenset(row.partition("|")[0] for *_, rows in _SAMPLES.values() for row in rows)


def sample_table(kind: str, ids: IdSource, pictures: Sequence[str], of: Id = "") -> Table:
    """Return a table of samples.

    Args:
        kind: "goods", "groups" or "places".
        pictures: Names of six pictures of the site.
        of: The table that a column of it links to.
    """
    name, columns, rows = _SAMPLES[kind]
    return Table(
        id=ids(), name=name,
        columns=tuple(TableColumn(id=ids(), name=heading, kind=kind, means=means,
                                  of=of if kind == "link" else "",
                                  choices=_choices(rows, place) if kind == "choice" else ())
                      for place, (heading, kind, means) in enumerate(columns)),
        rows=tuple(TableRow(ids(), tuple(row.format(*pictures).split("|"))) for row in rows))


def _choices(rows: Sequence[str], place: int) -> tuple[str, ...]:
    return tuple(dict.fromkeys(row.split("|")[place] for row in rows))
