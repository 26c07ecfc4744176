"""The way through the verbs with which people begin to tell of an idea."""

from collections.abc import Iterator

from spacy.language import Language
from spacy.tokens import Doc, Token

from needle.core.draft.reading.turning import as_base

__all__ = ["through_verbs"]


def through_verbs(nlp: Language, rest: str) -> tuple[str, str]:
    """Return the sentence from what is offered on, and the verb that offers it.

    "My wife and I have been thinking about opening a café …" begins at the café.
    """
    doc = nlp(rest)
    root = next((token for token in doc if token.dep_ == "ROOT"), None)
    if root is None or root.pos_ not in ("VERB", "AUX"):
        return rest, ""
    if not _begins_with_subject(doc, root):
        return rest, ""
    subject = next((t for t in root.lefts if t.dep_ in ("nsubj", "nsubjpass")), None)
    if subject is not None and subject.pos_ in ("NOUN", "PROPN") and \
            subject.i <= 4 and not _ours(doc, root):
        return rest, ""  # "Our tool helps clubs": it stands at the beginning already.
    for verb in _chain(root):
        thing = next((t for t in verb.rights if t.dep_ in ("dobj", "attr", "oprd")), None)
        if thing is not None and thing.pos_ in ("NOUN", "PROPN"):
            start = min(t.i for t in thing.subtree if t.i <= thing.i)
            return doc[start:].text, _base(verb)
    return rest, ""


def _begins_with_subject(doc: Doc, root: Token) -> bool:
    """Whether a sentence begins with who does something, not with the thing itself."""
    subject = next((t for t in root.lefts if t.dep_ in ("nsubj", "nsubjpass")), None)
    if subject is None:
        return any(t.dep_ == "expl" for t in root.lefts)
    return not any(t.text in (",", ":", ";") for t in doc[: subject.left_edge.i])


def _ours(doc: Doc, root: Token) -> bool:
    return any(t.text.casefold() in ("i", "we") for t in doc[: root.i])


def _base(verb: Token) -> str:
    return as_base(verb.text.casefold())


def _chain(root: Token) -> Iterator[Token]:
    """Yield verbs from the last that is wished for to the first: "want to try to sell"."""
    below = [root]
    while True:
        token = below[-1]
        following = next((t for t in token.rights if t.pos_ in ("VERB", "AUX")
                          and t.dep_ in ("xcomp", "ccomp", "pcomp")), None)
        if following is None:
            following = next((inner for t in token.rights if t.dep_ == "prep"
                              for inner in _preposed(t)), None)
        if following is None or following in below:
            break
        below.append(following)
    yield from reversed(below)


def _preposed(prep: Token) -> Iterator[Token]:
    for token in prep.subtree:
        if token.dep_ == "pcomp" and token.pos_ == "VERB":
            yield token
