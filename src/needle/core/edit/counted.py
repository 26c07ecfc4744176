"""Having a click count as a conversion, or no more."""

from needle.core.edit.nodes import set_field
from needle.core.edit.pages import page_index, set_page
from needle.core.edit.place import EditError, find, node_at
from needle.core.site.site import Site
from needle.core.values.actions import CountGoal
from needle.core.values.ids import Id
from needle.core.values.strict import StrictError
from needle.core.values.testplan import LinkGoal

__all__ = ["set_counted", "set_link_counted"]

_MOST_LINKS = 40


def set_counted(site: Site, node_id: Id, name: str) -> Site:
    """Return the site with a click on an item counted under a name, or not counted.

    Args:
        name: What is reached by it; empty for a click that counts no more.

    Raises:
        EditError: The item has no clicks of its own.
    """
    node = node_at(site, find(site, node_id))
    actions = getattr(node, "actions", None)
    if actions is None:
        raise EditError("click-counts-not")
    others = tuple(one for one in actions if not isinstance(one, CountGoal))
    # First, so that it is counted before the click leads away.
    counted = (CountGoal(" ".join(name.split())[:120]), *others) if name.strip() else others
    return set_field(site, node_id, "actions", counted)


def set_link_counted(site: Site, page_id: Id, to: str, name: str) -> Site:
    """Return the site with clicks on a page's links to somewhere counted under a name, or not.

    Args:
        to: As `LinkGoal.to`.
        name: What is reached by them; empty for clicks that count no more.

    Raises:
        EditError: The name cannot stand there, or as many links count as can.
    """
    page = site.pages[page_index(site, page_id)]
    others = tuple(one for one in page.links if one.to != to)
    tidy = " ".join(name.split())[:120]
    if tidy and len(others) >= _MOST_LINKS:
        raise EditError("reaches-full", most=_MOST_LINKS)
    try:
        links = (*others, LinkGoal(to, tidy)) if tidy else others
    except StrictError as error:
        raise EditError(error.message) from error
    return set_page(site, page_id, links=links)
