"""Storing leads that come from a file."""

import time
from collections.abc import Sequence

from sqlalchemy import Engine

from needle.core.leads.importing import ImportedLead
from needle.store.results.taking import NewLead, take_leads

__all__ = ["take_imported"]

_AT_ONCE = 1000


def take_imported(engine: Engine, found: Sequence[ImportedLead], name: str) -> int:
    """Store leads of a file, each once; return how many are new."""
    now = int(time.time() * 1000)
    fresh = 0
    for start in range(0, len(found), _AT_ONCE):
        kept = take_leads(engine, [NewLead(
            key=one.key, at_ms=one.at_ms or now, visitor=f"import-{one.key[:24]}", form="",
            form_name=f"Import {name}"[:200], page="", variant="", email=one.email,
            answers=one.answers, source="import") for one in found[start:start + _AT_ONCE]])
        fresh += sum(one.fresh for one in kept)
    return fresh
