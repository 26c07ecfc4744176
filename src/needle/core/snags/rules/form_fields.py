"""Fields that cost answers, or cannot be answered."""

from collections import Counter
from collections.abc import Iterator

from needle.core.site.site import Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.form import Form, Role, ShowMessage, ThankPage

__all__ = ["RULES"]

_MOST_AT_ONCE = 7


def _asked(form: Form) -> Iterator[tuple[str, int]]:
    """Yield each step's name, empty for a form without, and how much it asks."""
    for step in (step.id for step in form.steps) if form.steps else ("",):
        fields = [field for field in form.asked_in(step) if field.role is not Role.HIDDEN]
        yield step, len(fields)


def _long(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        most = max((count for _, count in _asked(form)), default=0)
        if most > _MOST_AT_ONCE:
            yield Spot(f"“{form.name}” asks {most} things at once", "form", form.id, form.name)


def _doubled(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        labels = Counter(field.label.strip().casefold() for field in form.fields
                         if field.role is not Role.HIDDEN)
        for label, count in labels.items():
            if label and count > 1:
                yield Spot(f"{count} fields are called “{label}”", "form", form.id, form.name)


def _unnamed(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        if any(not field.label.strip() for field in form.fields):
            yield Spot("A field has no label", "form", form.id, form.name)


def _no_choice(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        for field in form.fields:
            if field.role in (Role.CHOICE, Role.CHOICES) and len(field.choices) < 2:
                yield Spot(f"“{field.label}” offers no choice", "form", form.id, form.name)


def _after(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        if isinstance(form.after, ThankPage) and site.page(form.after.page) is None:
            yield Spot(f"After “{form.name}” a page should come that is gone", "form", form.id,
                       form.name)
        elif isinstance(form.after, ShowMessage) and not form.after.words.strip():
            yield Spot(f"“{form.name}” says nothing once it is sent", "form", form.id, form.name)


_READS = frozenset({Area.FORMS})
RULES = (
    Rule(id="long-form", weight=3, scope="site", look=_long, reads=_READS,
         source="trade practice",
         reason="Each field costs some of those who began; ask less, or in steps."),
    Rule(id="doubled-label", weight=3, scope="site", look=_doubled, reads=_READS,
         source="WCAG 2.2, 2.4.6", reason="Nobody can tell what each of them asks."),
    Rule(id="field-without-label", weight=2, scope="site", look=_unnamed, reads=_READS,
         source="WCAG 2.2, 3.3.2", reason="Nobody knows what belongs there."),
    Rule(id="no-choice", weight=2, scope="site", look=_no_choice, reads=_READS,
         source="trade practice", reason="Where nothing can be chosen, nothing is answered."),
    Rule(id="nothing-after-sending", weight=1, scope="site", look=_after,
         reads=_READS | {Area.PAGES}, source="trade practice",
         reason="Who does not see that it arrived sends it again or gives up."),
)
