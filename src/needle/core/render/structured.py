"""What a page says of itself to machines: JSON-LD in the vocabulary of schema.org."""

import json
from collections.abc import Iterator

from markupsafe import Markup

from needle.core.kinds.questions import Questions
from needle.core.render.context import Context
from needle.core.values.words import plain

__all__ = ["page_address", "structured_data"]

_Thing = dict[str, object]


def page_address(domain: str, slug: str) -> str:
    """Return the one true address of a page, or nothing where the site has no domain yet."""
    return f"https://{domain}/{slug}" if domain else ""


def structured_data(context: Context) -> Markup:
    """Return the script element that holds all of it; nothing where nothing is to say."""
    things = [*_page(context), *_questions(context)]
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


def _questions(context: Context) -> Iterator[_Thing]:
    asked = [(plain(entry.question).strip(), "\n".join(map(plain, entry.answer)).strip())
             for node in context.variant.nodes() if isinstance(node, Questions)
             for entry in node.entries]
    full = [(question, answer) for question, answer in asked if question and answer]
    if full:
        yield {"@type": "FAQPage", "mainEntity": [
            {"@type": "Question", "name": question,
             "acceptedAnswer": {"@type": "Answer", "text": answer}} for question, answer in full]}
