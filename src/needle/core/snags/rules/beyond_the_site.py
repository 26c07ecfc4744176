"""Links that come out wrong, and a certificate that does not hold: seen from outside."""

from collections.abc import Iterator

from needle.core.site.site import Page, Site
from needle.core.snags.beyond import Beyond, Link, links_of, menu_links
from needle.core.snags.snag import Rule, Spot

__all__ = ["RULES"]

# Answers that a machine gets where a person would be let in, or which pass (RFC 9110, RFC 6585).
_LET_BE = frozenset({401, 403, 405, 406, 408, 425, 429, 451, 503})
_WHY_SILENT = {"name": "there is no such name", "silent": "nothing answers there",
               "unsafe": "its certificate is not trusted"}
_SHOWN = 60


def _spot(link: Link, words: str, page: Page) -> Spot:
    name = f"{page.name} {link.variant}" if page.tested else page.name
    return Spot(words, "node", link.node, f"{name} · {link.part}" if link.part else name,
                setting=link.setting)


def _not_live(page: Page, site: Site, beyond: Beyond) -> Iterator[Spot]:
    if page.id not in beyond.live:
        return
    for link in (*links_of(page), *menu_links(page, site)):
        to = site.page(link.page) if link.page and link.page not in beyond.live else None
        if to is not None:
            yield _spot(link, f"Leads to “{to.name}”, which is not live and does not go along",
                        page)


def _dead(page: Page, _site: Site, beyond: Beyond) -> Iterator[Spot]:
    for link in links_of(page):
        answer = beyond.answers.get(link.address)
        if answer is None:
            continue
        if answer.fault:
            yield _spot(link, f"{link.address[:_SHOWN]}: {_WHY_SILENT[answer.fault]}", page)
        elif answer.status >= 400 and answer.status not in _LET_BE:
            yield _spot(link, f"{link.address[:_SHOWN]} answers {answer.status}", page)


def _moved(page: Page, _site: Site, beyond: Beyond) -> Iterator[Spot]:
    for link in links_of(page):
        answer = beyond.answers.get(link.address)
        if answer is not None and answer.moved and answer.status < 400:
            yield _spot(link, f"{link.address[:_SHOWN]} has moved to {answer.moved[:_SHOWN]}", page)


def _certificate(page: Page, site: Site, beyond: Beyond) -> Iterator[Spot]:
    if beyond.certificate and page is site.pages[0]:
        yield Spot(beyond.certificate, "page", page.id, site.domain or site.name,
                   setting="certificate")


RULES = (
    Rule(id="link-not-live", weight=2, scope="beyond", look=_not_live, source="trade practice",
         reason="Who follows it from the live page finds that there is no such page."),
    Rule(id="dead-link", weight=2, scope="beyond", look=_dead,
         source="RFC 9110, 15.5; asked for with “Ask for outside links”",
         reason="Who follows it finds nothing, and thinks less of the page that sent them."),
    Rule(id="moved-link", weight=3, scope="beyond", look=_moved,
         source="RFC 9110, 15.4; asked for with “Ask for outside links”",
         reason="Each redirect costs time on the road, and one day it ends."),
    Rule(id="certificate", weight=1, scope="beyond", look=_certificate, source="RFC 6125, RFC 5280",
         reason="Browsers warn whoever comes, and almost all turn back."),
)
