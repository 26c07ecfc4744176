"""Edits of how a split test is meant, and of what counts besides forms and clicks."""

import msgspec

from needle.core.edit.pages import page_index, set_page
from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.core.values.strict import StrictError
from needle.core.values.testplan import GoalWorth, Reach

__all__ = ["MOST_REACHES", "add_reach", "remove_reach", "set_plan", "set_worth"]

MOST_REACHES = 12


def set_plan(site: Site, page_id: Id, **values: object) -> Site:
    """Return the site with the running test of a page meant otherwise.

    Raises:
        EditError: A value cannot stand there, or the test would end before it begins.
    """
    page = site.pages[page_index(site, page_id)]
    try:
        plan = msgspec.structs.replace(page.plan, **values)
    except StrictError as error:
        raise EditError(error.message) from error
    if plan.begins and plan.ends and plan.ends <= plan.begins:
        raise EditError("test-ends-first")
    return set_page(site, page_id, plan=plan)


def add_reach(site: Site, page_id: Id, reach: Reach) -> Site:
    """Return the site with so much of a page, or so long a stay, counting as a conversion.

    Raises:
        EditError: It has no name, the page has one of that name, or there are as many as can be.
    """
    page = site.pages[page_index(site, page_id)]
    if not reach.name.strip():
        raise EditError("reach-needs-name")
    if any(one.name == reach.name for one in page.reaches):
        raise EditError("reach-name-taken", name=reach.name)
    if len(page.reaches) >= MOST_REACHES:
        raise EditError("reaches-full", most=MOST_REACHES)
    return set_page(site, page_id, reaches=(*page.reaches, reach))


def remove_reach(site: Site, page_id: Id, name: str) -> Site:
    """Return the site with one of them counting no more; what it brought stays in the results."""
    page = site.pages[page_index(site, page_id)]
    return set_page(site, page_id, reaches=tuple(
        one for one in page.reaches if one.name != name))


def set_worth(site: Site, goal: str, **values: object) -> Site:
    """Return the site with a goal worth otherwise; of main goals there is only ever one.

    Raises:
        EditError: A value cannot stand there.
    """
    known = next((one for one in site.worths if one.goal == goal), GoalWorth(goal))
    try:
        worth = msgspec.structs.replace(known, **values)
    except StrictError as error:
        raise EditError(error.message) from error
    others = tuple(msgspec.structs.replace(one, main=False) if worth.main else one
                   for one in site.worths if one.goal != goal)
    worths = others if worth == GoalWorth(goal) else (*others, worth)
    return site if worths == site.worths else msgspec.structs.replace(site, worths=worths)
