"""What a page says of itself to machines: JSON-LD in the vocabulary of schema.org."""

import json
from collections.abc import Iterator

from markupsafe import Markup

from needle.core.kinds.questions import Questions
from needle.core.render.context import Context
from needle.core.values.about import About
from needle.core.values.words import plain

__all__ = ["page_address", "structured_data"]

_Thing = dict[str, object]
_TYPES = {"event": "Event", "product": "Product", "business": "LocalBusiness"}


def page_address(domain: str, slug: str) -> str:
    """Return the one true address of a page, or nothing where the site has no domain yet."""
    return f"https://{domain}/{slug}" if domain else ""


def structured_data(context: Context, picture: str = "") -> Markup:
    """Return the script element that holds all of it; nothing where nothing is to say.

    Args:
        picture: The address of the picture that stands for the page, where it is whole.
    """
    things = [*_page(context), *_about(context, picture), *_questions(context)]
    if not things:
        return Markup("")
    told = json.dumps({"@context": "https://schema.org", "@graph": things}, ensure_ascii=False,
                      separators=(",", ":"))
    # Nothing in it may end the element.
    safe = told.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")
    return Markup(f'<script type="application/ld+json">{safe}</script>')


def _page(context: Context) -> Iterator[_Thing]:
    """Yield who the site is, the page, and the way to it; all of them need addresses."""
    site, page = context.site, context.page
    home = page_address(site.domain, "")
    if not home:
        return
    here = page_address(site.domain, page.slug)
    yield {"@type": "Organization", "@id": f"{home}#organization", "name": site.name, "url": home}
    told: _Thing = {"@type": "WebPage", "@id": here, "url": here, "name": page.title or page.name,
                    "inLanguage": site.language,
                    "isPartOf": {"@type": "WebSite", "@id": f"{home}#website", "name": site.name,
                                 "url": home, "publisher": {"@id": f"{home}#organization"}}}
    if page.description:
        told["description"] = page.description
    yield told
    if page.slug:
        yield {"@type": "BreadcrumbList", "itemListElement": [
            {"@type": "ListItem", "position": 1, "name": site.name, "item": home},
            {"@type": "ListItem", "position": 2, "name": page.name, "item": here}]}


def _about(context: Context, picture: str) -> Iterator[_Thing]:
    """Yield the event, product or place of business, once it says what searches ask for."""
    page, about = context.page, context.page.about
    if not about.kind or about.lacks:
        return
    here = page_address(context.site.domain, page.slug)
    told: _Thing = {"@type": _TYPES[about.kind],
                    "name": about.name or page.title or page.name}
    told |= {name: words for name, words in (
        ("description", page.description), ("image", picture), ("url", here)) if words}
    if about.kind == "event":
        told |= _times_and_place(about)
    if about.kind == "business":
        told |= _business(about)
    elif about.price and about.currency:
        told["offers"] = {"@type": "Offer", "price": about.price, "priceCurrency": about.currency,
                          **({"url": here} if here else {})}
    yield told


def _business(about: About) -> _Thing:
    hours = [one.strip() for one in about.hours.split(";") if one.strip()]
    told: _Thing = {"address": about.street.strip(), "telephone": about.phone.strip(),
                    "openingHours": hours, "hasMap": about.map}
    return {name: words for name, words in told.items() if words}


def _times_and_place(about: About) -> _Thing:
    told: _Thing = {"eventAttendanceMode": "https://schema.org/OfflineEventAttendanceMode",
                    "eventStatus": "https://schema.org/EventScheduled"}
    for key, name in (("startDate", "starts"), ("endDate", "ends")):
        if (at := about.moment(name)) is not None:
            whole = ":" in getattr(about, name)
            told[key] = at.isoformat() if whole else f"{at:%Y-%m-%d}"
    place: _Thing = {"@type": "Place", "name": about.place.strip()}
    if about.street.strip():
        place["address"] = about.street.strip()
    return told | {"location": place}


def _questions(context: Context) -> Iterator[_Thing]:
    asked = [(plain(entry.question).strip(), "\n".join(map(plain, entry.answer)).strip())
             for node in context.variant.nodes() if isinstance(node, Questions)
             for entry in node.entries]
    full = [(question, answer) for question, answer in asked if question and answer]
    if full:
        yield {"@type": "FAQPage", "mainEntity": [
            {"@type": "Question", "name": question,
             "acceptedAnswer": {"@type": "Answer", "text": answer}} for question, answer in full]}
