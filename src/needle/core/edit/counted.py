"""Having a click count as a conversion, or no more."""

from needle.core.edit.nodes import set_field
from needle.core.edit.place import EditError, find, node_at
from needle.core.site.site import Site
from needle.core.values.actions import CountGoal
from needle.core.values.ids import Id

__all__ = ["set_counted"]


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
