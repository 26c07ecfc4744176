"""A first screen that does not say what the advert said."""

import re
from collections.abc import Iterator

from needle.core.kinds.heading import Heading
from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import walk
from needle.core.snags.snag import Rule, Spot

__all__ = ["RULES"]

_WORD = re.compile(r"[^\W\d_]{4,}|\d+")
# Endings differ between an advert and a sentence: so many letters tell words apart.
_STEM = 5
# Words of four letters and more that tell nothing, in the languages that pages are written in.
_LITTLE = frozenset((
    "from", "with", "your", "this", "that", "what", "when", "have", "will", "into", "over", "more",
    "than", "their",
    "eine", "einen", "einer", "nicht", "oder", "unsere", "unser", "sich", "auch", "nach", "über",
    "dans", "pour", "avec", "votre", "notre", "plus",
    "para", "como", "este", "esta", "nuestra", "della", "delle", "degli", "sono",
    "voor", "onze", "niet", "naar"))


def _stems(words: str) -> dict[str, str]:
    """Return the words that carry meaning, by how they begin."""
    return {word[:_STEM]: word for word in _WORD.findall(words.casefold())
            if word not in _LITTLE}


def _look(page: Page, _site: Site) -> Iterator[Spot]:
    wanted = _stems(page.advert)
    for variant in page.variants if wanted else ():
        headline, around = _first_words(variant)
        missing = [word for stem, word in wanted.items() if stem not in _stems(around)]
        if not set(wanted) & set(_stems(headline)):
            said = "The headline has none of the advert's words"
        elif 2 * len(missing) > len(wanted):
            said = "The first section lacks the advert's words"
        else:
            continue
        lost = ", ".join(f"“{word}”" for word in (missing or wanted.values()))
        yield Spot(f"{said}: {lost[:120]}", setting="advert",
                   where=f"{page.name} {variant.key}" if page.tested else page.name)


def _first_words(variant: Variant) -> tuple[str, str]:
    """Return the main heading, and all that is said from the top down to the end of its section."""
    around: list[str] = []
    for top in variant.children:
        nodes = list(walk(top))
        around += [line for node in nodes for line in plain_lines(node)]
        main = next((node for node in nodes if isinstance(node, Heading) and node.rank == 1), None)
        if main is not None:
            return " ".join(plain_lines(main)), " ".join(around)
    return "", " ".join(around)


RULES = (
    Rule(id="advert-words", weight=2, scope="page", look=_look, source="trade practice",
         reason="Who clicked an advert looks for its words; where they are missing, it seems to be "
                "the wrong page."),
)
