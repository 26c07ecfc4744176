"""Words turned into other forms: without the turns of telling, in another person or tense."""

import re

from spacy.tokens import Doc, Token

from needle.core.draft.reading.agreeing import third

__all__ = ["as_base", "as_fact", "as_third_person", "gerund", "second_person",
           "without_turns"]

_VERBS = ("sell|offer|open|start|launch|run|build|make|create|set up|organi[sz]e|provide|host|"
          "do|have|"
          "own|hold|put on|produce|publish|write|repair|fix|mend|clean|teach|design|bake|grow|brew|"
          "deliver|rent out|rent|restore|tutor|train|translate|photograph|cater for|plan|help|"
          "paint|"
          "install|rescue|roast|lend|walk|look after|tune|knit|sew|print|groom|move|edit|plant|"
          "give|"
          "collect|found|built|opened|started|made|created|founded|launched|developed|wrote")
_TURNS = re.compile(
    r"(?:(?:so|well|basically|hi|hello|hey|ok|okay|please)[, ]+)*"
    r"(?:(?:what|imagine) if (?:people|you|we|everyone|anyone|they) (?:could|can) "
    r"|(?:(?:can|could) you |please )?help (?:me|us) (?:to )?(?=sell|find|open|start)"
    r"|(?:how|what) about |what if (?:there (?:was|were|is)|we had) |(?:there|we) should (?:be|"
    r"have) "
    r"|(?:i|we)(?:'ve| have) (?:always wanted to|an idea for|a plan for)(?: (?:open|start|run))? "
    r"|(?:i|we)(?:'d| would| will|'m| am|'re| are)?(?: also| currently| now)? *(?:like|want|"
    r"plan|hope|"
    r"intend|wish|going|love|planning|hoping|thinking|looking|trying|about)? *(?:of |about |to )?"
    rf"(?P<verb>{_VERBS})(?P<ing>ing)? (?=\S)"
    r"|(?:i|we)(?: am| are|'m|'re) (?=an? |the |\d)"
    r"|(?:my|our|the) (?:\w+ )?(?:idea|plan|project|business|start-?up|company|service|"
    r"product|shop) (?:is|will be|would be|is about|offers|sells)"
    r"(?: to (?:sell|offer|open|start|run|build|make|create))? "
    r"|(?:it is|it's|this is|it will be|imagine|think of|there is|there's) "
    r"|(?:a |an |the |my |our )?(?:landing page|web ?site|web page|page|site|start-?up|business|"
    r"company|idea|project) "
    r"(?:for|about|that sells|that offers|selling|offering|to promote|to sell|to offer) )",
    re.IGNORECASE)
# "We are a small team building …" tells the same as "we are building …".
_TEAM = re.compile(r"^(?:we|i)(?:'re|'m| are| am) an? (?:[\w-]+ ){0,3}(?:team|group|family|couple|"
                   r"company|collective|studio|business)(?: of [\w-]+)? (?:who |that )?"
                   rf"(?=(?:{_VERBS})(?:ing|s)? )", re.IGNORECASE)
_PERSONS = {"their": "your", "theirs": "yours", "they": "you", "them": "you", "we": "you",
            "our": "your", "us": "you", "themselves": "yourself", "they're": "you're"}
_IRREGULAR = {"built": "build", "made": "make", "wrote": "write", "opened": "open",
              "started": "start", "created": "create", "founded": "found", "launched": "launch",
              "developed": "develop", "sold": "sell", "ran": "run", "is": "be", "are": "be",
                  "has": "have", "does": "do", "goes": "go", "having": "have",
              "giving": "give", "making": "make", "using": "use", "letting": "let",
              "running": "run", "getting": "get", "putting": "put", "setting": "set",
              "knitting": "knit", "opening": "open", "baking": "bake", "taking": "take",
              "writing": "write", "driving": "drive", "saving": "save", "moving": "move",
              "sharing": "share", "planning": "plan", "cutting": "cut", "swimming": "swim",
              "bringing": "bring", "seeing": "see", "being": "be", "living": "live",
              "leaving": "leave", "coming": "come", "becoming": "become", "raising": "raise",
              "providing": "provide", "organising": "organise", "organizing": "organize",
              "offering": "offer", "producing": "produce", "reducing": "reduce",
              "serving": "serve", "hiring": "hire", "improving": "improve", "closing": "close",
              "exchanging": "exchange", "replacing": "replace", "preparing": "prepare"}
_BESIDES = re.compile(r"^(?:and|but|so|also|then|because|since|plus)\b[, ]*", re.IGNORECASE)


def without_turns(words: str) -> tuple[str, str]:
    """Return a sentence without "I want to sell" and the like, and the verb that was in it."""
    verb = ""
    words = _TEAM.sub("we are ", words)
    for _ in range(3):
        found = _TURNS.match(words)
        if not found or not found.group(0).strip() or not words[found.end():].strip():
            break
        verb = as_base((found["verb"] or verb).casefold()) if found["verb"] else verb
        words = words[found.end():].strip()
    return words, verb


def as_base(verb: str) -> str:
    """Return the base form of a verb: "teaching" and "teaches" give "teach"."""
    low = verb.casefold()
    if low in _IRREGULAR:
        return _IRREGULAR[low]
    if low.endswith("ing") and len(low) > 5:
        stem = low[:-3]
        doubled = len(stem) > 3 and stem[-1] == stem[-2] and stem[-1] not in "lsz"
        return stem[:-1] if doubled else stem
    if low.endswith("ies") and len(low) > 4:
        return low[:-3] + "y"
    if low.endswith(("ches", "shes", "sses", "xes", "zes")):
        return low[:-2]
    return low[:-1] if low.endswith("s") and not low.endswith("ss") else low


def gerund(phrase: str) -> str:
    """Return a phrase that begins with a base form as a noun: "learning Spanish"."""
    first, _, rest = phrase.partition(" ")
    stem = first[:-1] if first.endswith("e") and not first.endswith(("ee", "ye", "oe")) else first
    if re.fullmatch(r"[^aeiou]*[aeiou][bdgmnprt]", stem):
        stem += stem[-1]
    return f"{stem}ing {rest}".strip()


def as_third_person(said: str) -> str:
    """Return a phrase that begins with a base form in the third person, verbs after "and" too."""
    first, _, rest = said.strip().partition(" ")
    return f"{third(first.casefold())} {rest}".strip()


def second_person(words: str) -> str:
    """Return what they can do as what you can do."""
    return re.sub(r"\b(?:their|theirs|they|them|themselves|they're|we|our|us)\b",
                  lambda found: _PERSONS[found.group(0).lower()], words, flags=re.IGNORECASE)


def as_fact(doc: Doc) -> str:
    """Return what somebody told as a plain fact in the present: "it would open" gives "it opens".

    A sentence keeps its verb, a phrase stays a phrase; nothing comes back of words that say
    nothing by themselves.
    """
    words: list[str] = []
    skip = False
    for token in doc:
        after = doc[token.i + 1] if token.i + 1 < len(doc) else None
        if skip:
            skip = False
        elif after is not None and _is_wish(token, after):
            # "I'd": what is left out stood without a space.
            words.append(("" if not words or words[-1].endswith(" ") else " ")
                         + _present(token, after) + after.whitespace_)
            skip = True
        else:
            words.append(token.text_with_ws)
    said = _BESIDES.sub("", "".join(words).strip())
    said = re.sub(r"^(?:we|i) (?:thought|think|believe|hope|know|feel|guess)(?: that)? ", "", said,
                  flags=re.IGNORECASE).strip(" ,.;")
    said = re.sub(r" (?:we|i) (?:thought|think|believe|hope)(?: that)? ", ", ", said,
                  flags=re.IGNORECASE)
    if not any(token.pos_ in ("NOUN", "PROPN", "NUM", "VERB", "ADV", "ADJ")
               for token in doc) or len(said) < 4:
        return ""
    return said[:1].upper() + said[1:]


def _is_wish(modal: Token, verb: Token) -> bool:
    """Whether a modal says how it is going to be: "would open", "should be"."""
    low = modal.text.casefold()
    return modal.tag_ == "MD" and (
        (low in ("would", "will", "'ll", "'d") and verb.tag_ == "VB")
        or (low == "should" and verb.text == "be"))


def _present(modal: Token, verb: Token) -> str:
    """Return a verb after "would" in the present, agreeing with its subject."""
    clause = verb.head if verb.dep_ in ("aux", "auxpass") else verb
    subject = next((t for t in clause.lefts if t.dep_ in ("nsubj", "nsubjpass")), None)
    if subject is None and any(t.dep_ == "expl" for t in clause.lefts):
        subject = next((t for t in clause.rights if t.dep_ in ("attr", "dobj")), None)
    plural = subject is not None and (subject.tag_ in ("NNS",
        "NNPS") or subject.text.casefold() in (
        "we", "they", "you", "i") or any(t.dep_ == "conj" for t in subject.rights))
    base = verb.text.casefold()
    if base == "be":
        return "are" if plural else "is"
    return base if plural else third(base)
