"""The words of an advert on the page: which there are, and the script that puts them there."""

import json
from collections.abc import Iterable
from functools import cache
from importlib.resources import files

from needle.core.render.context import Context
from needle.core.render.texts import runs_of
from needle.core.site.site import Site
from needle.core.values.advert import AdvertWords
from needle.core.values.node import Node

__all__ = ["advert_script", "adverts_shown"]


def adverts_shown(site: Site, nodes: Iterable[Node]) -> tuple[AdvertWords, ...]:
    """Return the advert words that stand on some nodes."""
    if not site.adverts:
        return ()
    used = {run.advert for node in nodes for run in runs_of(node) if run.advert}
    return tuple(one for one in site.adverts if one.id in used)


def advert_script(context: Context) -> str:
    """Return the script for the head of a page, empty if it has no such words.

    It stands in the page itself and runs before anything is shown, so that nothing shifts.
    """
    shown = adverts_shown(context.site, context.variant.nodes())
    if not shown or context.mode == "edit":
        return ""
    told = {one.id: [one.param, [[value.said.lower(), value.shown, value.number]
                                 for value in one.values]] for one in shown}
    # As the text of a script it can hold no end of that script.
    return f"({_source()})({json.dumps(told).replace('<', chr(92) + 'u003c')})"


@cache
def _source() -> str:
    text = (files("needle.core.render") / "runtime" / "advert.js").read_text("utf-8")
    return "\n".join(line for line in text.strip().splitlines() if not line.startswith("//")
                     ).removesuffix(";")
