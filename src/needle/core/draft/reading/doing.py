"""What is done for customers: told with a verb, and named as a noun."""

import re

import inflection
from spacy.tokens import Doc

from needle.core.draft.reading.found import Found
from needle.core.draft.reading.lexicon import DOING, are_people
from needle.core.draft.reading.parting import lower_first
from needle.core.draft.reading.turning import gerund, second_person

__all__ = ["done", "take_lessons"]


def done(verb: str, doc: Doc, end: int) -> tuple[str, str, int]:
    """Return what is done, after "we", its name as a noun ("bicycle repairs"), and its end."""
    thing, stop = doc[:end].text, end
    for token in doc[end:]:
        word = token.text.casefold()
        if token.text in (",", ";", ":") or word in (
                "for", "in", "at", "near", "so", "every", "on", "since", "because", "with") or (
                word == "to" and are_people(doc[token.i + 1:].text)):
            break
        stop = token.i + 1
    tail = doc[end:stop].text.strip()
    bare = re.sub(r"^(?:the|your|my|our|old|all|their|people's)\s+", "", lower_first(thing),
                  flags=re.IGNORECASE)
    named = DOING.get(verb.split()[0], "")
    single = str(inflection.singularize(bare.split()[-1])) if bare else ""
    noun = " ".join([*bare.split()[:-1], single])
    what = f"{noun} {named}" if named else gerund(f"{verb} {lower_first(thing)} {tail}".strip())
    return f"{verb} {lower_first(thing)} {tail}".strip(), what.strip(), stop


def take_lessons(doc: Doc, end: int, found: Found) -> int:
    """Take "teach teenagers to repair their own phones"; return where it ends."""
    found.who, found.what = lower_first(doc[:end].text), "lessons"
    stop = end
    for token in doc[end:]:
        if token.text in (",", ";", ":") or token.text.casefold() in ("in", "at", "every"):
            break
        stop = token.i + 1
    said = re.sub(r"^(?:how )?to ", "", doc[end:stop].text)
    if said != doc[end:stop].text:
        found.change = second_person(said)
        found.what = f"lessons in {gerund(found.change)}"
    elif said:
        found.what = f"{said} lessons"
    return stop
