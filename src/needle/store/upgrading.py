"""Reading what an earlier Needle wrote: what was called otherwise then gets its name of today."""

from typing import Any

import msgspec

__all__ = ["upgraded_site"]


def upgraded_site(raw: bytes, schema: int) -> bytes:
    """Return the JSON of a `site.json`, or of a bare site, as schema 2 has it.

    Args:
        schema: The one it was written in.
    """
    if schema >= 2:
        return raw
    held = msgspec.json.decode(raw)
    site = held.get("site", held) if isinstance(held, dict) else {}
    forms = site.get("forms") if isinstance(site, dict) else ()
    for form in forms if isinstance(forms, list) else ():
        if isinstance(form, dict) and isinstance(form.get("routes"), list):
            form["routes"] = [_route(route) for route in form["routes"]]
    return msgspec.json.encode(held)


def _route(route: Any) -> Any:
    """Until schema 1 a thread went to a mailing list only and said which field went where."""
    if not isinstance(route, dict) or route.get("by") != "list":
        return route
    fields = route.get("fields")
    return {"by": "fields", "id": route.get("id"), "service": route.get("service"),
            "target": route.get("list_key", ""), "target_name": route.get("list_name", ""),
            "fields": {key: field for field, key in fields.items()}
            if isinstance(fields, dict) else {}}
