"""What visitors must have said yes to."""

from collections.abc import Iterator

from needle.core.site.site import Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.form import FieldRoute, Form, Role

__all__ = ["RULES"]


def _joins_a_list(form: Form, site: Site) -> bool:
    lists = {service.id for service in site.services if service.does == "list"}
    return any(isinstance(route, FieldRoute) and route.service in lists for route in form.routes)


def _unasked(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        asked = any(field.role is Role.CONSENT for field in form.fields) or form.confirmation
        if _joins_a_list(form, site) and not asked:
            yield Spot(f"“{form.name}” puts people on a list and asks nobody", "form", form.id,
                       form.name)


def _ticked(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        for field in form.fields:
            if field.role is Role.CONSENT and field.default.strip():
                yield Spot(f"“{field.label[:48]}” is ticked before anybody says yes", "form",
                           form.id, form.name)


def _codes(site: Site) -> Iterator[Spot]:
    waiting = [code for code in site.tracking if code.purpose != "needed"]
    if waiting and not site.consent.asked and site.pages:
        names = ", ".join(code.name for code in waiting[:3])
        yield Spot(f"Codes run without anybody being asked: {names}", where="Connect, Tracking")


RULES = (
    Rule(id="list-without-consent", weight=2, scope="site", look=_unasked,
         reads=frozenset({Area.FORMS, Area.SERVICES}),
         source="Regulation (EU) 2016/679, art. 7; Directive 2002/58/EC, art. 13",
         reason="Letters to people who did not ask for them are unlawful in most countries and "
                "end as spam; a box to tick or a letter to confirm is enough."),
    Rule(id="ticked-consent", weight=2, scope="site", look=_ticked,
         reads=frozenset({Area.FORMS}), source="Court of Justice of the EU, C-673/17",
         reason="A box that was ticked for somebody is no consent."),
    Rule(id="codes-without-consent", weight=2, scope="site", look=_codes,
         reads=frozenset({Area.TRACKING, Area.PAGES}),
         source="Directive 2002/58/EC, art. 5 (3)",
         reason="Counting and advertising codes may run in many countries only after a yes."),
)
