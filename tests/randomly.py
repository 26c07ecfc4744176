"""Edits chosen by numbers, for tests that do anything to a site in any order."""

from hypothesis import strategies as st

from needle.core.edit.brand import set_swatch
from needle.core.edit.clipping import clip, paste
from needle.core.edit.grouping import add_cell, delete_all, move_all, reorder_at, wrap
from needle.core.edit.linked import follow_links, keep_section, use_kept
from needle.core.edit.looks import paste_look, plain_look, set_look, take_look
from needle.core.edit.nodes import (
    add_top,
    delete,
    duplicate,
    insert,
    move,
    nudge,
    set_field,
    set_hidden,
    set_words,
    split_row,
)
from needle.core.edit.pages import change_code, set_letter_width
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds import ITEM_KINDS
from needle.core.site.site import Site
from needle.core.values.ids import new_id
from needle.core.values.widths import Width
from needle.core.values.words import text
from tests.sites import PAGE

__all__ = ["KINDS_OF_EDIT", "SIDES", "STEPS", "ids", "random_edit"]

KINDS_OF_EDIT = (
    "words", "move", "copy", "delete", "hide", "look", "field", "columns", "nudge", "add", "link",
    "use", "wrap", "cell", "order", "code", "letters", "colour", "paste", "carry", "plain",
    "several")
SIDES = ("before", "after", "left", "right", "inside")
Step = tuple[str, int, int, str]
STEPS = st.lists(st.tuples(st.sampled_from(KINDS_OF_EDIT), st.integers(0, 99),
                           st.integers(0, 99), st.sampled_from(SIDES)), max_size=40)
_KINDS = tuple(ITEM_KINDS.values())


def ids(site: Site, page: int = 0) -> list[str]:
    """Return the ids of all nodes of a page's first variant."""
    return [node.id for node in site.pages[page].variants[0].nodes()]


def random_edit(site: Site, step: Step) -> Site:
    """Return the site after an edit, or the same site if it is refused."""
    try:
        return follow_links(site, _edited(site, step))
    except EditError:
        return site


def _edited(site: Site, step: Step) -> Site:
    what, one, other, side = step
    names = ids(site)
    width = [None, *Width][one % 4]
    match what:
        case "code":
            return change_code(site, "page", PAGE, css=f".a{{top:{one}px}}")
        case "letters":
            return set_letter_width(site, PAGE, 400 + one * 5)
        case "colour":
            return set_swatch(site, "main", f"#{one:02d}{other:02d}40")
        case "use" if site.kept:
            return add_top(site, PAGE, "A", use_kept(site, site.kept[one % len(site.kept)].id))
    if not names:
        return site
    node, target = names[one % len(names)], names[other % len(names)]
    match what:
        case "words":
            return set_words(site, node, (text(f"Words {one}"), text("more")))
        case "move":
            return move(site, node, target, side)  # type: ignore[arg-type]
        case "copy":
            return duplicate(site, node)[0]
        case "delete":
            return delete(site, node)
        case "hide":
            return set_hidden(site, node, list(Width)[one % 3], bool(other % 2))
        case "look":
            return set_look(site, [node], "radius", other, width)
        case "field":
            return set_field(site, node, "name", f"Name {other}")
        case "columns":
            return split_row(site, node, 1 + other % 4)
        case "add":
            return insert(site, _KINDS[other % len(_KINDS)].new(new_id()), node, side)  # type: ignore[arg-type]
        case "link" if len(site.kept) < 3:
            return keep_section(site, node, f"Kept {one} {other}", True)[0]
        case "wrap":
            return wrap(site, [node], bool(other % 2))[0]
        case "cell":
            return add_cell(site, node)[0]
        case "order":
            return reorder_at(site, node, list(Width)[other % 3], -1 if one % 2 else 1)
        case "paste":
            return paste(site, clip(site, [node]), PAGE, "A", target)[0]
        case "carry":
            return paste_look(site, [target], take_look(node_at(site, find(site, node))))
        case "plain":
            return plain_look(site, [node], width)
        case "several":
            both = [node, target]
            return delete_all(site, both) if one % 5 == 0 else move_all(
                site, both, names[(one + other) % len(names)], side)  # type: ignore[arg-type]
        case "nudge":
            return nudge(site, node, 1 if other % 2 else -1)
    return site
