"""A whole site from words and a look."""

from collections.abc import Mapping
from dataclasses import dataclass

import msgspec

from needle.core.draft.copy import Copy
from needle.core.draft.foreign import page_words
from needle.core.draft.looks import LookChoices
from needle.core.draft.orders import order
from needle.core.draft.pages import PageDraft
from needle.core.draft.slots import Slots
from needle.core.edit.brand import set_mark, set_palette, set_theme, set_typefaces
from needle.core.edit.forms import notice_address
from needle.core.edit.pages import free_slug
from needle.core.icons.drawing import icon_names
from needle.core.readymade.drawn import StandIns
from needle.core.site.site import Page, Site
from needle.core.values.form import Form, FormField, NoticeRoute, Role, ThankPage
from needle.core.values.ids import Id, IdSource

__all__ = ["Drafted", "Picks", "draft_site"]

# Names of icons that are words for other things as well.
_NO_OBJECTS = frozenset(["list", "link", "type", "file", "move", "search", "share", "text",
    "table", "tag", "hand", "star", "target", "app", "box", "club", "bell", "image", "key",
        "lock", "filter"])
_STAND_INS = ((1200, 900), (960, 720), (1200, 800))


@dataclass(frozen=True, slots=True)
class Picks:
    """Which proposals were taken, by their places.

    Attributes:
        name: The name itself, since it may be the person's own.
    """

    name: str
    headline: int = 0
    sub: int = 0
    palette: int = 0
    pair: int = 0
    mark: int = 0
    theme: int = 0
    order: int = 0


@dataclass(frozen=True, slots=True)
class Drafted:
    """A draft.

    Attributes:
        site: The site with the draft in it.
        files: Files below the media folder that it needs, by name.
        start: The draft's first page.
    """

    site: Site
    files: Mapping[str, bytes]
    start: Id


def draft_site(site: Site, slots: Slots, copy: Copy, looks: LookChoices, picks: Picks,
               ids: IdSource, replacing: bool) -> Drafted:
    """Return a site with a first draft.

    Args:
        replacing: The draft takes the place of all pages and sets the brand; otherwise its pages
            stand beside the others, in the brand that there is.
    """
    if replacing:
        site = _branded(site, looks, picks, slots)
    drawn = StandIns(site, ids, slots.idea, _icon_of(slots),
                     f"A drawing that stands in for a picture of {slots.what or 'what is offered'}")
    media = [drawn.draw(wide, high) for wide, high in _STAND_INS]
    form_id, words = ids(), page_words(slots.language)
    page_draft = PageDraft(
        copy, order(looks.orders[picks.order]), words, ids, name=picks.name,
        headline=copy.headlines[picks.headline], sub=copy.subs[picks.sub],
        pictures=[medium.id for medium in media], form=form_id,
        own_call=bool(site.brief.call_to_action.strip()))
    pages: tuple[Page, ...] = page_draft.pages()
    form = _form(site, copy, form_id, page_draft.thanks_page, ids, (words.email, words.name))
    brief = msgspec.structs.replace(
        site.brief, idea=site.brief.idea or slots.idea, audience=site.brief.audience or slots.who,
        call_to_action=site.brief.call_to_action or copy.call)
    kept = () if replacing else site.pages
    for page in pages:
        taken = msgspec.structs.replace(site, pages=kept)
        slug = page.slug if replacing else free_slug(taken, page.slug or "draft")
        name = page.name if replacing else f"{page.name} ({picks.name})"[:80]
        kept = (*kept, msgspec.structs.replace(page, slug=slug, name=name))
    site = msgspec.structs.replace(
        site, brief=brief, pages=kept, forms=(form,) if replacing else (*site.forms, form),
        media=(*site.media, *media),
        language=slots.language if replacing else site.language)
    return Drafted(site, drawn.files, pages[0].id)


def _branded(site: Site, looks: LookChoices, picks: Picks, slots: Slots) -> Site:
    pair = looks.pairs[picks.pair]
    site = set_palette(site, looks.palettes[picks.palette])
    site = set_typefaces(site, pair.heading, pair.body)
    site = set_theme(site, looks.themes[picks.theme])
    site = set_mark(site, looks.marks[picks.mark])
    own = picks.name in (slots.name, site.name)
    return msgspec.structs.replace(site, name=picks.name, invented=() if own else ("name",),
                                   folders=(), kept=())


def _icon_of(slots: Slots) -> str:
    """Return an icon that shows the very thing, by its name; empty if there is none.

    Nothing but its own name will do: what belongs to the same field may be the wrong object.
    """
    known = set(icon_names())
    words = [form for word in reversed(slots.what.casefold().split()[:6])
             for form in (word, word.removesuffix("s"), word.removesuffix("es"))]
    return next((word for word in words if word in known and word not in _NO_OBJECTS), "")


def _form(site: Site, copy: Copy, form_id: Id, thanks: Id, ids: IdSource,
          labels: tuple[str, str]) -> Form:
    """Return the form of a draft; its leads go to the lead book and, if there is mail, a notice."""
    fields = [FormField(id=ids(), role=Role.EMAIL, label=labels[0], required=True),
              FormField(id=ids(), role=Role.NAME, label=labels[1])]
    if copy.ask and copy.choices:
        fields.insert(0, FormField(id=ids(), role=Role.CHOICE, label=copy.ask,
                                   choices=copy.choices))
    fields.append(FormField(id=ids(), role=Role.HIDDEN, label="Source", source="utm_source"))
    mail = next((service for service in site.services if service.does == "mail"), None)
    routes = (NoticeRoute(ids(), mail.id, notice_address(site, mail)),) if mail else ()
    return Form(id=form_id, name=copy.call[:60], fields=tuple(fields), submit=copy.call,
                after=ThankPage(thanks), routes=routes)
