"""Stand-in pictures as media of a site, no two of a page by the same device."""

import hashlib

from needle.core.brand.standins import Subject, devices_for, stand_in
from needle.core.site.site import Medium, Site
from needle.core.type.faces import FACES, nearest_face
from needle.core.values.ids import IdSource

__all__ = ["StandIns"]


class StandIns:
    """Draws pictures that stand in until there are real ones.

    Attributes:
        media: Those that were drawn, in order.
        files: Their files below the media folder, by name.
    """

    def __init__(self, site: Site, ids: IdSource, seed: str, icon: str = "",
                 alt: str = "A drawing that stands in for a picture of your own") -> None:
        """Draw for `site`, in its colours.

        Args:
            seed: Another text gives other drawings.
            icon: The name of a shipped icon that shows what is offered; empty if none does.
            alt: What each stands in for, in words.
        """
        face = nearest_face(site, site.brand.heading_face, 700, False)
        letters = [sign for sign in site.name.upper() if sign.isascii() and sign.isalpha()]
        self._subject = Subject(icon=icon, letters="".join(letters[:2]),
                                face=face if face and not face.own else FACES[0])
        self._colours, self._ids, self._seed, self._alt = site.brand.colours(), ids, seed, alt
        self._devices = devices_for(seed, self._subject)
        self.media: list[Medium] = []
        self.files: dict[str, bytes] = {}

    def draw(self, wide: int = 1200, high: int = 900) -> Medium:
        """Return another drawing, in CSS pixels as wide and high as said."""
        number = len(self.media)
        data = stand_in(self._devices[number % len(self._devices)], self._colours,
                        f"{self._seed} {number}", self._subject, wide, high)
        file = f"{hashlib.sha256(data).hexdigest()[:16]}.svg"
        self.files[file] = data
        self.media.append(Medium(
            id=self._ids(), name=f"Stand-in {number + 1}.svg", file=file, width=wide, height=high,
            weight=len(data), invented=True, alt=self._alt))
        return self.media[-1]
