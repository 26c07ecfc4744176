"""Tracking codes and the banner that asks for them, as they stand in a page."""

from markupsafe import Markup

from needle.core.markup.markup import join, tag
from needle.core.render.context import Context
from needle.core.values.tracking import PURPOSES, TrackingCode

__all__ = ["CONSENT_CSS", "asks_for_consent", "codes_at", "consent_banner"]

CONSENT_CSS = (
    ".consent{position:fixed;left:12px;right:12px;bottom:12px;z-index:90;max-width:560px;"
    "padding:16px 18px;background:#fff;color:#14161c;border:1px solid #767b87;border-radius:6px;"
    "font:15px/1.5 system-ui,sans-serif}.consent[hidden]{display:none}.consent p{margin:0 0 10px}"
    ".consent div{display:flex;flex-wrap:wrap;gap:8px 14px;margin-bottom:12px}"
    ".consent label{display:flex;gap:8px;align-items:center;min-height:32px}"
    ".consent input{width:20px;height:20px;margin:0}.consent div:last-child{margin:0}"
    ".consent button{font:inherit;font-weight:600;min-height:44px;padding:0 16px;cursor:pointer;"
    "border:1px solid #14161c;border-radius:5px;background:#fff;color:#14161c}"
    ".consent a{color:inherit}")


def asks_for_consent(context: Context) -> bool:
    """Return whether a page has something to ask its visitor about."""
    return context.site.consent.asked and any(
        code.purpose != "needed" for code in context.site.tracking_on(context.page))


def codes_at(context: Context, place: str) -> Markup:
    """Return the codes of a page that stand at a place; in a walk-through none."""
    if context.mode != "live":
        return Markup()
    return join(_code(context, code) for code in context.site.tracking_on(context.page)
                if code.place == place)


def _code(context: Context, code: TrackingCode) -> Markup:
    waits = context.site.consent.asked and code.purpose != "needed"
    # The comments say which code is whose, to a trial visit and to whoever reads the page; each
    # code has lines of its own, so that a browser's complaint about a line is about one code.
    name = f"needle-code {code.id}"
    if waits:
        # As an attribute, so that nothing in the code can end the template before its time.
        held = tag("template", {"data-purpose": code.purpose, "data-code": code.id,
                                "data-html": code.html})
        return Markup(f"\n<!--{name}-->\n") + held + Markup("\n<!--/needle-code-->\n")
    return Markup(f"\n<!--{name}-->\n{code.html}\n<!--/needle-code-->\n")


def consent_banner(context: Context) -> Markup:
    """Return the banner, if the page has something to ask."""
    if context.mode != "live" or not asks_for_consent(context):
        return Markup()
    consent = context.site.consent
    wanted = {code.purpose for code in context.site.tracking_on(context.page)}
    boxes = join(tag("label", {}, tag("input", {"type": "checkbox", "value": purpose}),
                     context.words(f"consent-{purpose}"))
                 for purpose in PURPOSES
                 if purpose != "needed" and purpose in wanted)
    policy = context.site.page(consent.policy)
    more = [" ", tag("a", {"href": f"{context.root}{policy.slug}" or "./"}, policy.name)] \
        if policy else []
    return tag("aside", {"class": "consent", "data-consent-banner": True, "hidden": True,
                         "aria-label": context.words("consent-banner")},
               tag("p", {}, consent.words, *more), tag("div", {}, boxes),
               tag("div", {}, tag("button", {"type": "button", "data-answer": "all"},
                                  consent.accept),
                   tag("button", {"type": "button", "data-answer": "some"}, consent.refuse)))
