"""Words in another language than the site's."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.heading import Heading
from needle.core.kinds.passage import Passage
from needle.core.render.texts import plain_lines
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area

__all__ = ["RULES"]

# Words that carry grammar and no meaning: the commonest of each language that no other one here
# writes the same way.
_COMMON = {
    "en": "the and of to is that with for you your are this from have not we our be it they",
    "de": "der die das und ist nicht ein eine mit für auf sie wir ihr ihre sich von dem den zu im",
    "fr": "le les et est une des pour avec dans vous votre nous notre sur que qui pas au du",
    "es": "el los las y es una con para por usted su nosotros nuestro que no del al más como",
    "it": "il gli e è una con per che non di della dei nel nostro vostro si sono anche più",
    "nl": "het een en is van voor met dat niet wij u uw ons onze zijn op te aan er ook"}
_SETS = {name: frozenset(words.split()) for name, words in _COMMON.items()}
_NAMES = {"en": "English", "de": "German", "fr": "French", "es": "Spanish", "it": "Italian",
          "nl": "Dutch"}
_LEAST_WORDS = 5
_LEAST_HITS = 3


def language_of(words: str) -> str:
    """Return the language that some words are in, as far as their commonest words tell; empty if
    they are too few or could be of two."""
    parts = [part.strip(".,;:!?“”„\"'()").lower() for part in words.split()]
    if len(parts) < _LEAST_WORDS:
        return ""
    hits = sorted(((sum(part in common for part in parts), name)
                   for name, common in _SETS.items()), reverse=True)
    (most, name), (next_most, _) = hits[:2]
    return name if most >= _LEAST_HITS and most >= 2 * next_most else ""


def _other(at: ItemAt) -> Iterator[Spot]:
    if not isinstance(at.node, Heading | Passage | Button):
        return
    own = str(at.site.language).split("-")[0].lower()
    if own not in _SETS:
        return
    lines = plain_lines(at.node)
    # One paragraph among others, or words that make a language only together.
    for words in (*lines, " ".join(lines)):
        found = language_of(words)
        if found and found != own:
            yield Spot(f"Written in {_NAMES[found]}, on a page in {_NAMES[own]}: “{words[:40]}”")
            return


RULES = (
    Rule(id="mixed-languages", weight=3, scope="item", look=_other,
         reads=frozenset({Area.LANGUAGE}), source="WCAG 2.2, success criteria 3.1.1 and 3.1.2",
         reason="It is read out in the wrong accent, and looks like something that was left "
                "over."),
)
