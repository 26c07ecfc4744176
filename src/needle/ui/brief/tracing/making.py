"""Sections that were found in a picture become a page of their own."""

from collections.abc import Sequence

import msgspec
import numpy as np
from PyQt6.QtCore import QBuffer, QIODevice
from PyQt6.QtGui import QImage

from needle.core.edit.media import add_medium
from needle.core.edit.pages import add_whole_page, free_name
from needle.core.images.picturefile import PictureError
from needle.core.readymade.drawn import StandIns
from needle.core.seeing.building import build_sections
from needle.core.seeing.shapes import Band, Rect
from needle.core.site.site import Medium, Page, Site, Variant
from needle.core.values.ids import Id, new_id
from needle.store.media import keep_made, keep_picture
from needle.store.originals import Pinned
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["SectionCutter"]


class SectionCutter:
    """Cuts the sections that are taken out of one picture, and puts them on a page of their own.

    Attributes:
        page: The page that was made; empty before.
        faults: What is wrong with pictures that could not be cut out, in words.
    """

    def __init__(self, session: Session, one: Pinned, pixels: np.ndarray,
                 takes_over: bool = False) -> None:
        """Cut out of a pinned picture.

        Args:
            takes_over: Words and pictures of a saved page are taken over, too; else words are
                placeholders and pictures are drawn.
        """
        self._session = session
        self._one = one
        self._pixels = pixels
        self._takes_over = takes_over
        self._drawn = StandIns(session.site, new_id, one.name) if one.source and (
            not takes_over) else None
        self._media: list[Medium] = []
        self.page: Id = ""
        self.faults: list[str] = []

    def make(self, bands: Sequence[Band]) -> bool:
        """Make the page as one step; return whether it is there."""
        return self._session.edit(tr("sections from picture"), lambda site: self._made(site, bands))

    def _made(self, site: Site, bands: Sequence[Band]) -> Site:
        sections = build_sections(bands, site, new_id, self._cut_out, self._takes_over)
        for medium in self._media:
            site = add_medium(site, medium)
        page = Page(id=new_id(), name="", variants=(Variant(key="A", children=tuple(sections)),))
        site, self.page = add_whole_page(site, page, free_name(
            site, tr("From {picture}",
                     picture=self._one.name.rpartition(".")[0] or self._one.name)))
        return site

    def _cut_out(self, rect: Rect, on_it: Sequence[Rect]) -> Id:
        try:
            self._media.append(self._kept(rect, on_it))
        except PictureError as error:
            self.faults.append(str(error))
            return ""
        except OSError as error:
            self.faults.append(tr("A picture cannot be written: {why}. Make room on the disk.",
                                  why=error.strerror))
            return ""
        return self._media[-1].id

    def _kept(self, rect: Rect, on_it: Sequence[Rect]) -> Medium:
        """Return a part of the picture as a medium that stands in for the real one.

        Args:
            on_it: What stands on it and comes as items of its own.
        """
        from needle.core.seeing.clearing import cleared  # Heavy, and needed only here.

        if self._drawn is not None:
            medium = self._drawn.draw(max(1, rect.width), max(1, rect.height))
            keep_made(self._session.folder, {medium.file: self._drawn.files[medium.file]})
            return medium
        scale = self._one.scale
        part = self._pixels[round(rect.top * scale): round(rect.bottom * scale),
                            round(rect.left * scale): round(rect.right * scale)]
        held = np.ascontiguousarray(cleared(part, [_scaled(one, rect, scale) for one in on_it]))
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        QImage(held.tobytes(), held.shape[1], held.shape[0], held.shape[1] * 3,
               QImage.Format.Format_RGB888).save(buffer, "PNG")
        medium = keep_picture(self._session.folder, bytes(buffer.data().data()),
                              f"Cut {len(self._media) + 1} from {self._one.name}.png")
        known = next((m for m in self._session.site.media if m.file == medium.file), None)
        return known or msgspec.structs.replace(medium, invented=True)


def _scaled(one: Rect, within: Rect, scale: float) -> Rect:
    """Return a place of the page in pixels of a part that is cut out."""
    return Rect(*(round(side * scale) for side in (
        one.left - within.left, one.top - within.top, one.right - within.left,
        one.bottom - within.top)))
