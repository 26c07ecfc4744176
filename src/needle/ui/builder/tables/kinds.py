"""How kinds of columns, and what columns mean, are offered."""

from collections.abc import Sequence

from needle.core.values.ids import Id
from needle.core.values.tables import COLUMN_KINDS, MEANINGS, Table
from needle.ui.language import tr

__all__ = ["kind_choices", "linked_kind", "meaning_choices", "parted_kind"]

_LINK = "link:"


def kind_choices(tables: Sequence[Table]) -> dict[str, str]:
    """Return how kinds of columns are offered: a row of another table once for each of those."""
    found = {key: tr(words) for key, words in COLUMN_KINDS.items() if key != "link"}
    return found | {f"{_LINK}{table.id}": tr("Row of “{table}”", table=table.name)
                    for table in tables}


def parted_kind(chosen: str) -> tuple[str, str]:
    """Return the kind that was chosen, and the table whose rows it names."""
    return ("link", chosen.removeprefix(_LINK)) if chosen.startswith(_LINK) else (chosen, "")


def meaning_choices(kind: str) -> dict[str, str]:
    """Return what a column of a kind may mean."""
    return {"": tr("only what it says")} | {
        key: tr(words) for key, (words, kinds) in MEANINGS.items() if kind in kinds}


def linked_kind(kind: str, of: Id) -> str:
    """Return a kind as `kind_choices` offers it."""
    return f"{_LINK}{of}" if kind == "link" else kind
