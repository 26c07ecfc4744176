"""A page on its own, as it goes from one project to another."""

from collections.abc import Mapping

import msgspec

from needle.core.edit.copying import fresh_variant
from needle.core.edit.everywhere import map_page, nodes_of
from needle.core.edit.pages import free_name, free_slug
from needle.core.edit.texts import with_value
from needle.core.kinds.formbox import FormBox
from needle.core.render.reads import media_of
from needle.core.site.site import Page, Site, TextStyle
from needle.core.site.tree import Section
from needle.core.values.form import Form
from needle.core.values.ids import Id, new_id
from needle.core.values.media import Font, Medium
from needle.core.values.node import Node

__all__ = ["PACKAGE_SCHEMA", "Package", "pack_page", "unpack_page"]

PACKAGE_SCHEMA = 2


class Package(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A page and what it needs.

    Attributes:
        needle_page: The schema, for files of later times.
        styles: The text styles that it uses.
    """

    needle_page: int
    page: Page
    forms: tuple[Form, ...] = ()
    media: tuple[Medium, ...] = ()
    fonts: tuple[Font, ...] = ()
    styles: tuple[TextStyle, ...] = ()


def pack_page(site: Site, page_id: Id) -> Package:
    """Return a page as a package.

    Raises:
        KeyError: There is no such page.
    """
    page = site.page(page_id)
    if page is None:
        raise KeyError(page_id)
    nodes = [node for variant in (*page.variants, *page.archive) for node in variant.nodes()]
    shown = {medium for node in nodes for _, medium in media_of(node)} | {page.share}
    forms = {node.form for node in nodes if isinstance(node, FormBox)}
    styles = {str(getattr(node, "style", "")) for node in nodes}
    return Package(
        needle_page=PACKAGE_SCHEMA, page=page,
        forms=tuple(form for form in site.forms if form.id in forms),
        media=tuple(medium for medium in site.media if medium.id in shown),
        fonts=site.fonts, styles=tuple(style for style in site.styles if style.key in styles))


def unpack_page(site: Site, package: Package) -> tuple[Site, Id]:
    """Return the site with a package's page in it, and the page's id.

    Ids stay as they are unless the site has one of them already. Media with the same file
    are the same medium; a form that the site has is used, one that differs comes under an id of
    its own. Text styles that the site has keep its look.
    """
    page = package.page
    site, forms = _with_forms(site, package.forms)
    site, media = _with_media(site, package.media)
    page = map_page(page, lambda node: _rewired(node, forms, media))
    page = msgspec.structs.replace(page, share=media.get(page.share, page.share), folder="")
    taken = {node.id for _, node in nodes_of(site)} | {other.id for other in site.pages}
    if page.id in taken or any(node.id in taken for v in page.variants for node in v.nodes()):
        page = msgspec.structs.replace(page, id=new_id(), variants=tuple(
            fresh_variant(variant, variant.key) for variant in page.variants), archive=())
    page = msgspec.structs.replace(page, name=free_name(site, page.name),
                                   slug=_free(site, page.slug))
    known = {style.key for style in site.styles}
    fonts = {(font.family, font.weight, font.italic) for font in site.fonts}
    return msgspec.structs.replace(
        site, pages=(*site.pages, page),
        styles=(*site.styles, *(style for style in package.styles if style.key not in known)),
        fonts=(*site.fonts, *(font for font in package.fonts
                              if (font.family, font.weight, font.italic) not in fonts))), page.id


def _free(site: Site, slug: str) -> str:
    if not slug and all(page.slug for page in site.pages):
        return slug
    return free_slug(site, slug or "page")


def _with_forms(site: Site, forms: tuple[Form, ...]) -> tuple[Site, Mapping[Id, Id]]:
    names, fresh = {}, []
    services = {service.id for service in site.services}
    for form in forms:
        known = site.form(form.id)
        routes = tuple(route for route in form.routes if route.service in services)
        if known is not None and known.fields == form.fields:
            continue
        changed = msgspec.structs.replace(form, routes=routes)
        if known is not None:
            names[form.id] = new_id()
            changed = msgspec.structs.replace(changed, id=names[form.id])
        fresh.append(changed)
    return msgspec.structs.replace(site, forms=(*site.forms, *fresh)), names


def _with_media(site: Site, media: tuple[Medium, ...]) -> tuple[Site, Mapping[Id, Id]]:
    names, fresh = {}, []
    by_file = {medium.file: medium.id for medium in site.media}
    for medium in media:
        if medium.file in by_file:
            names[medium.id] = by_file[medium.file]
        elif site.medium(medium.id) is not None:
            names[medium.id] = new_id()
            fresh.append(msgspec.structs.replace(medium, id=names[medium.id]))
        else:
            fresh.append(medium)
    return msgspec.structs.replace(site, media=(*site.media, *fresh)), names


def _rewired(node: Node, forms: Mapping[Id, Id], media: Mapping[Id, Id]) -> Node:
    for path, medium in list(media_of(node)):
        if medium in media:
            node = with_value(node, path, media[medium])
    if isinstance(node, FormBox) and node.form in forms:
        node = msgspec.structs.replace(node, form=forms[node.form])
    if isinstance(node, Section) and node.linked:
        node = msgspec.structs.replace(node, linked="")
    return node
