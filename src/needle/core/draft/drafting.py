"""A whole site from words and a look."""

import hashlib
import random
from collections.abc import Mapping
from dataclasses import dataclass

import msgspec

from needle.core.draft.copy import Copy
from needle.core.draft.idea import Idea
from needle.core.draft.illustration import illustration
from needle.core.draft.looks import LookChoices
from needle.core.draft.pages import PageDraft
from needle.core.edit.brand import set_mark, set_palette, set_scale, set_typefaces
from needle.core.edit.pages import free_slug
from needle.core.site.site import Medium, Page, Site
from needle.core.values.form import Form, FormField, Role, ThankPage
from needle.core.values.ids import Id, IdSource

__all__ = ["Drafted", "Picks", "draft_site"]

_SCALES = (1.2, 1.25, 1.3)


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
    layout: int = 0


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


def draft_site(site: Site, idea: Idea, copy: Copy, looks: LookChoices, picks: Picks,
               ids: IdSource, replacing: bool) -> Drafted:
    """Return a site with a first draft.

    Args:
        replacing: The draft takes the place of all pages and sets the brand; otherwise its pages
            stand beside the others, in the brand that there is.
    """
    if replacing:
        site = _branded(site, looks, picks, idea)
    media, files = _pictures(site, idea, ids)
    form_id = ids()
    page_draft = PageDraft(
        copy, looks.layouts[picks.layout], ids, name=picks.name,
        headline=copy.headlines[picks.headline], sub=copy.subs[picks.sub],
        pictures=[medium.id for medium in media],
        icons=idea.topic.icons, form=form_id, own_call=bool(site.brief.call_to_action.strip()))
    pages: tuple[Page, ...] = page_draft.pages()
    form = _form(copy, form_id, page_draft.thanks_page, ids)
    brief = msgspec.structs.replace(
        site.brief, idea=site.brief.idea or idea.words,
        call_to_action=site.brief.call_to_action or copy.call)
    kept = () if replacing else site.pages
    for page in pages:
        taken = msgspec.structs.replace(site, pages=kept)
        slug = page.slug if replacing else free_slug(taken, page.slug or "draft")
        name = page.name if replacing else f"{page.name} ({picks.name})"[:80]
        kept = (*kept, msgspec.structs.replace(page, slug=slug, name=name))
    site = msgspec.structs.replace(
        site, brief=brief, pages=kept, forms=(form,) if replacing else (*site.forms, form),
        media=(*site.media, *media))
    return Drafted(site, files, pages[0].id)


def _branded(site: Site, looks: LookChoices, picks: Picks, idea: Idea) -> Site:
    pair = looks.pairs[picks.pair]
    site = set_palette(site, looks.palettes[picks.palette])
    site = set_typefaces(site, pair.heading, pair.body)
    dice = random.Random(f"scale {idea.words}")
    site = set_scale(site, site.brand.size, dice.choice(_SCALES))
    site = set_mark(site, looks.marks[picks.mark])
    own = picks.name == idea.name or picks.name == site.name
    return msgspec.structs.replace(site, name=picks.name, invented=() if own else ("name",),
                                   folders=(), kept=())


def _pictures(site: Site, idea: Idea, ids: IdSource) -> tuple[list[Medium], dict[str, bytes]]:
    media, files = [], {}
    for number in range(2):
        icon = idea.topic.icons[number % len(idea.topic.icons)]
        wide, high = ((1200, 900), (960, 720))[number]
        data = illustration(icon, site.brand.colours(), f"{idea.words} {number}", wide, high)
        file = f"{hashlib.sha256(data).hexdigest()[:16]}.svg"
        files[file] = data
        media.append(Medium(id=ids(), name=f"Stand-in {number + 1}.svg", file=file, width=wide,
                            height=high, weight=len(data), invented=True,
                            alt=f"A drawing that stands in for a picture of {idea.what}"))
    return media, files


def _form(copy: Copy, form_id: Id, thanks: Id, ids: IdSource) -> Form:
    fields = [FormField(id=ids(), role=Role.EMAIL, label="Your e-mail", required=True),
              FormField(id=ids(), role=Role.NAME, label="Your name")]
    if copy.ask and copy.choices:
        fields.insert(0, FormField(id=ids(), role=Role.CHOICE, label=copy.ask,
                                   choices=copy.choices))
    fields.append(FormField(id=ids(), role=Role.HIDDEN, label="Source", source="utm_source"))
    return Form(id=form_id, name=copy.call[:60], fields=tuple(fields), submit=copy.call,
                after=ThankPage(thanks))
