"""Slots as parts of sentences: with articles, in the right number, in the right person."""

import re
from collections.abc import Mapping

from needle.core.draft.reading.agreeing import capital, starts_with_vowel, third
from needle.core.draft.slots import Slots

__all__ = ["bare", "listed", "phrases_of"]

_OBJECT = re.compile(r"(?:you|we|i|they|people|everyone|anyone|one)\b", re.IGNORECASE)
_ADVERBS = frozenset(("only", "also", "always", "never", "just", "even", "often", "still"))
_PREPOSED = re.compile(r"^(?:in|at|on|near|by|from)\s+", re.IGNORECASE)


def listed(things: tuple[str, ...]) -> str:
    """Return things as a list in a sentence: "a, b and c"."""
    return things[0] if len(things) == 1 else f"{', '.join(things[:-1])} and {things[-1]}" \
        if things else ""


def phrases_of(slots: Slots) -> Mapping[str, str]:
    """Return what the braces of `words/pages.toml` stand for; empty where the idea says nothing."""
    many, what = slots.many, slots.what
    a_what = _with_article(what, slots)
    the_what = f"the {what}" if what and not (slots.mass or what[:1].isupper()) else what
    about_it = not _OBJECT.match(slots.does)
    does = _agreeing(slots.does, many) if slots.does and about_it else ""
    it = "they" if many else "it"
    # A cause that does something does it for others than those who read.
    theirs = slots.offer == "cause" and bool(slots.does)
    price_per = f"{slots.price} {slots.per}".strip()
    found = {
        "what": what, "a_what": a_what, "the_what": the_what,
        "it": it, "it_obj": "them" if many else "it", "do": "do" if many else "does",
        "s": "" if many else "s", "does": does, "it_does": f"{it} {does}" if does else "",
        "it_does_bare": does,
        "that_does": f"that {does or slots.does}" if slots.does else "",
        "doing": slots.doing, "change": "" if theirs else slots.change.rstrip("."),
        "change_theirs": _third_person(slots.change.rstrip(".")) if theirs else "",
        "who": slots.who, "is": "are" if many else "is",
        "place": slots.place, "when": slots.when, "price": slots.price,
        "price_per": price_per, "proof": slots.proof.rstrip("."),
        "extras": listed(slots.extras), "name": slots.name}
    return found | {capital(name): capital(words) for name, words in found.items()}


def _third_person(words: str) -> str:
    turned = {"your": "their", "yours": "theirs", "you": "they", "yourself": "themselves"}
    return re.sub(r"\b(?:yours?|you|yourself)\b", lambda found: turned[found.group(0)], words)


# What begins with one of these has no article before it.
_COUNTED = frozenset({"one", "my", "our", "your", "this", "that", "no", "each", "every", "some"})


def _with_article(what: str, slots: Slots) -> str:
    if not what or slots.many or slots.mass or slots.language != "en" or _is_name(what):
        return what
    if what.split()[0].casefold() in _COUNTED or what[:1].isdigit():
        return what
    return f"{'an' if starts_with_vowel(what) else 'a'} {what}"


def _is_name(what: str) -> bool:
    """Whether each word is a name: "Quill Market"; "Spanish lessons" are none."""
    return all(word[:1].isupper() and word[1:].islower() for word in what.split())


def _agreeing(does: str, many: bool) -> str:
    """Return what it does with its first verb agreeing with one thing or several."""
    first, _, rest = does.partition(" ")
    low = first.casefold()
    if rest and (low in _ADVERBS or low.endswith("ly")):
        return f"{first} {_agreeing(rest, many)}"
    if "'" in low or "’" in low:
        return does  # "doesn't": it agrees as it was told.
    if many:
        made = {"is": "are", "has": "have", "does": "do", "goes": "go"}.get(low)
        if made is None:
            made = (low[:-2] if low.endswith(("ches", "shes", "sses", "xes", "zes")) else
                    f"{low[:-3]}y" if low.endswith("ies") else
                    low[:-1] if low.endswith("s") and not low.endswith("ss") else low)
    else:
        made = low if (low.endswith("s") and not low.endswith("ss")) or low in ("can", "will") \
            else third(low)
    return f"{made} {rest}".strip()


def bare(phrase: str) -> str:
    """Return a phrase of place or time without its preposition: "Leeds", "every Tuesday"."""
    return _PREPOSED.sub("", phrase)
