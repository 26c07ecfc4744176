"""A site as the files that visitors get."""

import hashlib
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial
from pathlib import Path

import msgspec

from needle.core.brand.marks import mark_address
from needle.core.brand.touchicon import touch_icon
from needle.core.markup.surroundings import Mode
from needle.core.messages.message import CoreError
from needle.core.render.context import Context
from needle.core.render.document import Assets, live_body, live_page, runtime_parts
from needle.core.render.outside import (
    part_body,
    part_page,
    part_runtime,
    part_variant,
    without_codes,
)
from needle.core.render.policy import page_policy
from needle.core.render.scripts import runtime_script
from needle.core.render.sharing import share_picture
from needle.core.render.structured import page_address
from needle.core.render.stylesheet import font_rule
from needle.core.site.site import Medium, Page, Site, Variant
from needle.core.tables.expanding import expanded
from needle.core.type.faces import Face
from needle.core.type.fallbacks import fallback_rule
from needle.core.type.subset import subset_woff2
from needle.core.values.ids import Id
from needle.core.values.outside import OutsidePart
from needle.core.wording.lettering import faces_used, letters_used
from needle.publish.alikesections import AlikeSections
from needle.store.files import write_atomically
from needle.store.media import PublishedPictures, rendition_bytes
from needle.store.trust import allowed_only

__all__ = ["Rendered", "Renderer", "page_file", "part_file"]

_FIRST_SCREEN_FONTS = 2


def page_file(page: Page, variant: Variant) -> str:
    """Return the file of a page below the published folder; further variants stand beside it."""
    first = variant is page.variants[0] or variant.key == page.variants[0].key
    name = "index.html" if first else f"variant-{variant.key.lower()}.html"
    return f"{page.slug}/{name}" if page.slug else name


def part_file(page: Page, part: OutsidePart) -> str:
    """Return the file of what of a page is shown elsewhere."""
    name = f"part-{part.id}.html"
    return f"{page.slug}/{name}" if page.slug else name


@dataclass
class Rendered:
    """The result of a render.

    Attributes:
        pages: The HTML by file name.
        assets: The bytes of fonts and scripts by file name below `assets/`.
        pictures: Medium and width by file name below `assets/`.
        policies: What each page may load and run, by its file name.
        shares: Pages by the file name of the picture made for sharing them.
        loads: What each page needs of `assets/`, by its file name.
        parts: The files of what is shown elsewhere, by the page's id.
    """

    pages: dict[str, str] = field(default_factory=dict)
    assets: dict[str, bytes] = field(default_factory=dict)
    pictures: dict[str, tuple[Medium, int]] = field(default_factory=dict)
    shares: dict[str, Page] = field(default_factory=dict)
    policies: dict[str, str] = field(default_factory=dict)

    loads: dict[str, tuple[str, ...]] = field(default_factory=dict)
    parts: dict[str, list[str]] = field(default_factory=dict)

    def paths_of(self, page: Page) -> list[str]:
        """Return the paths of a page's own files and of everything that they load."""
        own = [*(path for variant in page.variants
                 if (path := page_file(page, variant)) in self.loads),
               *self.parts.get(page.id, ())]
        return [*own, *(f"assets/{name}" for name in dict.fromkeys(
            name for path in own for name in self.loads[path]))]

    @property
    def asset_names(self) -> list[str]:
        """The file names of everything below `assets/`."""
        return [*self.assets, *self.pictures, *self.shares]


class Renderer:
    """Renders pages of one site; fonts and picture sizes are kept in the project's cache."""

    def __init__(self, site: Site, folder: Path, mode: Mode = "live", counted: bool = True,
                 hosted: bool = True) -> None:
        """Prepare to render.

        Args:
            folder: The project's folder.
            counted: A host stands behind the pages and counts their visits.
            hosted: Our own host serves them, and says beside each what it may load; else the
                page says it itself.
        """
        self._counted = counted
        self._hosted = hosted
        self._site = expanded(allowed_only(site))
        self._folder = folder
        self._mode: Mode = mode
        self._alike = AlikeSections()

    def render(self, pages: Iterable[Id] | None = None) -> Rendered:
        """Return the files for some pages, or for all."""
        wanted = None if pages is None else set(pages)
        done = Rendered()
        for page in self._site.pages:
            if wanted is not None and page.id not in wanted:
                continue
            # Without a host nobody shares visitors out: a variant would be another page.
            for variant in page.variants if self._hosted or self._counted else page.variants[:1]:
                self._render(page, variant, done)
            for part in self._site.outside_of(page.id) if self._mode == "live" else ():
                self._render_part(page, part, done)
        return done

    def _render_part(self, page: Page, part: OutsidePart, done: Rendered) -> None:
        """Render a form or popup that is shown elsewhere; one that is gone leaves nothing."""
        variant = part_variant(page, part.node)
        if variant is None:
            return
        root = "/"  # It is served at another depth than its file has.
        pictures: dict[str, tuple[Medium, int]] = {}
        context = Context(without_codes(self._site, page), page, variant, self._mode,
                          PublishedPictures(root, pictures), root)
        body = part_body(context)
        fonts = {face: self._font(face, letters_used([body]), done)
                 for face in faces_used(self._site, variant)}
        loads = [*fonts.values()]
        script = self._script(part_runtime(context, self._counted), done, loads)
        path = part_file(page, part)
        done.pages[path] = part_page(context, Assets(
            font_css=_font_rules(fonts, "/", self._folder / "media"),
            script=f"/assets/{script}"), body)
        done.policies[path] = page_policy(context)
        done.pictures |= pictures
        done.loads[path] = tuple(dict.fromkeys((*loads, *pictures)))
        done.parts.setdefault(page.id, []).append(path)

    def _render(self, page: Page, variant: Variant, done: Rendered) -> None:
        """Render one variant. Nothing of another page enters into it, so what comes out says
        whether this page has changed."""
        root = "../" if page.slug else ""
        pictures: dict[str, tuple[Medium, int]] = {}
        named = PublishedPictures(root, pictures)
        context = Context(self._site, page, variant, self._mode, named, root,
                          sections=partial(self._alike.html, named) if page.row.page else None)
        body = live_body(context)
        faces = faces_used(self._site, variant)
        letters = letters_used([body])
        fonts = {face: self._font(face, letters, done) for face in faces}
        policy = page_policy(context) if self._mode == "live" else ""
        loads = [*fonts.values()]
        assets = self._assets(context, fonts, done, loads, "" if self._hosted else policy)
        path = page_file(page, variant)
        done.pages[path] = live_page(context, assets, body)
        done.policies[path] = policy
        done.pictures |= pictures
        done.loads[path] = tuple(dict.fromkeys((*loads, *pictures)))

    def _assets(self, context: Context, fonts: Mapping[Face, str], done: Rendered,
                loads: list[str], policy: str) -> Assets:
        page, root = context.page, context.root
        parts = runtime_parts(context, self._counted)
        script = self._script(parts, done, loads) if parts else ""
        preload = [f"{root}assets/{fonts[face]}" for face in self._first_screen(fonts)]
        share = self._share(page, done)
        loads.append(share)
        domain = context.site.domain
        # Whoever shows a share takes no address that is relative.
        shown = page_address(domain, f"assets/{share}") or f"{root}assets/{share}"
        return Assets(font_css=_font_rules(fonts, root, self._folder / "media"), preload=preload,
                      icon=self._icon(root, done, loads),
                      touch_icon=self._touch_icon(root, done, loads),
                      share=shown, policy=policy, canonical=page_address(domain, page.slug),
                      script=f"{root}assets/{script}" if script else "")

    @staticmethod
    def _script(parts: tuple[str, ...], done: Rendered, loads: list[str]) -> str:
        """Return the file name of a script of these runtime parts."""
        source = runtime_script(parts).encode()
        script = f"needle-{_digest(source)}.js"
        done.assets[script] = source
        loads.append(script)
        return script

    def _icon(self, root: str, done: Rendered, loads: list[str]) -> str:
        """Return the address of the site's sign."""
        own = self._site.medium(self._site.brand.mark.medium)
        if own is None:
            return self._drawn_icon
        name = self._one_size(own, 0, done)
        loads.append(name)
        return f"{root}assets/{name}"

    def _touch_icon(self, root: str, done: Rendered, loads: list[str]) -> str:
        """Return the address of the icon for a phone's home screen; empty if none can be made."""
        told = self._touch
        if told is None:
            return ""
        name, data = told
        done.assets[name] = data
        loads.append(name)
        return f"{root}assets/{name}"

    @cached_property
    def _touch(self) -> tuple[str, bytes] | None:
        site, media = self._site, self._folder / "media"
        told = (site.name, site.brand, site.medium(site.brand.mark.medium), site.fonts)
        name = f"icon-{_digest(msgspec.json.encode(told))}.png"
        try:
            return name, self._made(name, lambda: touch_icon(
                site, site.medium(site.brand.mark.medium), media))
        except (OSError, ValueError, CoreError):  # The tab's icon tells that the sign is broken.
            return None

    def _one_size(self, medium: Medium, place: int, done: Rendered) -> str:
        """Return the file name of one size of a medium, of which no other is asked for."""
        used: dict[str, tuple[Medium, int]] = {}
        name = PublishedPictures("", used).renditions(medium)[place].address.split("/")[-1]
        done.pictures[name] = used[name]
        return name

    @cached_property
    def _drawn_icon(self) -> str:
        return mark_address(self._site, self._folder / "media")

    def _share(self, page: Page, done: Rendered) -> str:
        """Return the file name of the picture for sharing a page."""
        own = self._site.medium(page.share)
        if own is not None:
            return self._one_size(own, -1, done)
        told = (self._site.name, page.title or page.name, self._site.brand, self._site.medium(
            self._site.brand.share.medium))
        name = f"share-{_digest(msgspec.json.encode(told))}.jpg"
        done.shares[name] = page
        return name

    def _first_screen(self, faces: Iterable[Face]) -> list[Face]:
        brand = self._site.brand
        upright = [face for face in faces if not face.italic]
        headings = [face for face in upright if face.family == brand.heading_face]
        bodies = [f for f in upright if f.family == brand.body_face and f.weight == 400]
        return [*headings[-1:], *bodies[:1]][:_FIRST_SCREEN_FONTS]

    def _font(self, face: Face, letters: str, done: Rendered) -> str:
        stem = Path(face.file).stem.lower()
        name = f"{stem}-{_digest((stem + letters).encode())}.woff2"
        # A face that ships is the same for every project, and so is what is cut from it.
        media = self._folder / "media" if face.own else None
        if name not in done.assets:
            done.assets[name] = self._made(name, lambda: subset_woff2(face, letters, media))
        return name

    def _made(self, name: str, make: Callable[[], bytes]) -> bytes:
        """Return a file from the project's cache, made first if it is not there yet."""
        kept = self._folder / ".cache" / name
        if not kept.exists():
            write_atomically(kept, make())
        return kept.read_bytes()

    def asset_bytes(self, done: Rendered, name: str) -> bytes:
        """Return the bytes of a file below `assets/`."""
        if name in done.assets:
            return done.assets[name]
        if name in done.shares:
            return self._made(name, lambda: share_picture(
                self._site, done.shares[name], self._folder / "media"))
        medium, width = done.pictures[name]
        return rendition_bytes(self._folder, medium, width)


def _font_rules(fonts: Mapping[Face, str], root: str, media: Path) -> str:
    upright = {(face.family, face.weight): face for face in sorted(
        fonts, key=lambda face: face.italic, reverse=True)}
    return "".join(font_rule(face.family, face.weight, face.italic, f"{root}assets/{name}",
                             "font-display:swap;") for face, name in fonts.items()) + "".join(
        fallback_rule(face, media) for face in upright.values())


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()[:12]
