"""Edits of what belongs to the whole site: name and brief."""

from datetime import date

import msgspec

from needle.core.edit.place import EditError
from needle.core.markup.markup import safe_address
from needle.core.messages.message import Message, say
from needle.core.site.site import Brief, Site
from needle.core.values.language import Language

__all__ = ["brief_fault", "set_brief", "set_language", "set_site_name"]


def set_site_name(site: Site, name: str) -> Site:
    """Return the site under another name.

    Raises:
        EditError: The name is empty or too long.
    """
    tidy = " ".join(name.split())
    if not 0 < len(tidy) <= 80:
        raise EditError("site-name")
    if tidy == site.name and not site.invented:
        return site
    return msgspec.structs.replace(site, name=tidy, invented=())


def set_language(site: Site, language: Language) -> Site:
    """Return the site in another language.

    Raises:
        StrictError: That is no language.
    """
    return msgspec.structs.replace(site, language=language)


def set_brief(site: Site, part: str, words: str) -> Site:
    """Return the site with one part of its brief changed."""
    brief = msgspec.structs.replace(site.brief, **{part: words})
    return site if brief == site.brief else msgspec.structs.replace(site, brief=brief)


def brief_fault(brief: Brief) -> Message | None:
    """Return what is wrong with the brief, or `None`."""
    deadline = brief.deadline.strip()
    if deadline:
        try:
            date.fromisoformat(deadline)
        except ValueError:
            return say("brief-no-date", date=deadline)
    for line in brief.links.splitlines():
        if line.strip() and safe_address(line.strip()) == "#":
            return say("brief-no-address", address=line.strip()[:40])
    return None
