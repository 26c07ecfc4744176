"""What a page says of itself to machines: JSON-LD in the vocabulary of schema.org."""

import json
from collections.abc import Iterator

from markupsafe import Markup

from needle.core.kinds.questions import Questions
from needle.core.kinds.rowlist import RowList
from needle.core.render.context import Context
from needle.core.values.about import About
from needle.core.values.rows import Amount, Goods, Offered
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
    things = [*_page(context), *_about(context, picture), *_questions(context), *_lists(context)]
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
        way = [(site.name, home),
               *((one.name, page_address(site.domain, one.slug)) for one in page.row.above),
               (page.row.label or page.name, here)]
        yield {"@type": "BreadcrumbList", "itemListElement": [
            {"@type": "ListItem", "position": place, "name": name, "item": address}
            for place, (name, address) in enumerate(way, 1)]}


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
    elif about.kind == "product" and (goods := page.row.goods) is not None:
        told |= _goods(goods, here, about.currency)
    elif about.price and about.currency:
        told["offers"] = {"@type": "Offer", "price": about.price, "priceCurrency": about.currency,
                          **({"url": here} if here else {})}
    yield told


def _goods(goods: Goods, here: str, currency: str) -> _Thing:
    """Return what a product costs, each option and each sale with its days, and its rating.

    Args:
        currency: Of amounts that do not say theirs.
    """
    offers = [told for one in goods.offers for told in _offers(one, here, currency)]
    told: _Thing = {"offers": offers[0] if len(offers) == 1 else offers} if offers else {}
    if len(goods.offers) == 1 and goods.offers[0].sku:
        told["sku"] = goods.offers[0].sku
    if goods.rating:
        told["aggregateRating"] = {"@type": "AggregateRating", "ratingValue": goods.rating,
                                   "ratingCount": goods.ratings, "bestRating": 5}
    return told


def _offers(one: Offered, here: str, currency: str) -> Iterator[_Thing]:
    """Yield an offer at its price and, where a sale has days, another at that of the sale."""
    about: _Thing = {"@type": "Offer"}
    about |= {key: told for key, told in (
        ("name", one.name), ("sku", one.sku), ("url", here)) if told}
    if one.stock is not None:
        about["availability"] = ("https://schema.org/OutOfStock" if one.sold_out
                                 else "https://schema.org/InStock")
    days = {key: day for key, day in (
        ("validFrom", one.starts), ("priceValidUntil", one.ends)) if day}
    if one.price is not None and (one.sale is None or days):
        yield about | _price(one.price, currency)
    if one.sale is not None:
        yield about | _price(one.sale, currency) | days


def _price(amount: Amount, currency: str) -> _Thing:
    number, _, own = amount.cell.partition(" ")
    return {"price": number, "priceCurrency": own or currency}


def _lists(context: Context) -> Iterator[_Thing]:
    """Yield the lists of rows whose cells lead to their pages."""
    domain = context.site.domain
    for node in context.variant.nodes():
        if not isinstance(node, RowList) or not domain:
            continue
        led = [entry for entry in node.entries if entry.page]
        if len(led) > 1:
            yield {"@type": "ItemList", "itemListElement": [
                {"@type": "ListItem", "position": place, "name": plain(entry.title),
                 "url": page_address(domain, entry.slug)} for place, entry in enumerate(led, 1)]}


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
