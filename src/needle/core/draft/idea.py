"""What an idea says: what is offered, to whom, what for, where, when, at what price.

No grammar of English is needed for that, only the turns that people use when they tell an
idea. What cannot be told apart stays in the name of the thing.
"""

import itertools
import re
import tomllib
from dataclasses import dataclass
from importlib.resources import files

import inflection
import regex

from needle.core.draft.fields import FIELDS, Topic
from needle.core.draft.forms import FORMS, Form

__all__ = ["MOST_WORDS", "Idea", "read_idea"]

MOST_WORDS = 400
_LONGEST_WORD = 40
_WORDS = tomllib.loads((files(__package__) / "words" / "english.toml").read_text("utf-8"))
_PEOPLE, _NO_PEOPLE, _MASS, _COMMON, _FOREIGN, _NOT_NAMES = (
    frozenset(_WORDS[name].split())
    for name in ("people", "no_people", "mass", "common", "foreign", "not_names"))
_PERSONAL = tuple(_WORDS["personal"].split())
_TURNS = re.compile(
    r"(?:(?:so |well |basically |hi |hello )*,? *)"
    r"(?:(?:i|we)(?:'d| would| will|'m| am|'re| are)? *(?:like|want|plan|hope|intend|wish|going|"
    r"love|planning|hoping)? *(?:to )?(?P<verb>sell|offer|open|start|launch|run|build|make|create|"
    r"set up|organi[sz]e|provide|host|do|have|own|hold|put on|produce|publish|write|repair|fix|"
    r"clean|teach|design|bake|grow|brew|deliver|rent out|rent|restore|tutor|train|translate|"
    r"photograph|cater for|plan|help|paint|install|rescue|roast|lend|walk|look after)(?:ing)? "
    r"|(?:my|our|the) (?:\w+ )?(?:idea|plan|project|business|start-?up|company|service|"
    r"product|shop) (?:is|will be|would be|is about|offers|sells)"
    r"(?: to (?:sell|offer|open|start|run|build))? "
    r"|(?:it is|it's|this is|it will be|imagine|think of|there is|there's) "
    r"|(?:a |an |the )?(?:landing page|web ?site|web page|page|site|start-?up|business|company) "
    r"(?:for|about|that sells|that offers|selling|offering|to promote|to sell|to offer) )",
    re.IGNORECASE)
# What becomes of "we repair bicycles": bicycle repairs.
_DOING = {"repair": "repairs", "fix": "repairs", "clean": "cleaning", "teach": "lessons",
          "design": "design", "deliver": "deliveries", "rent": "rental", "rent out": "rental",
          "restore": "restoration", "tutor": "tutoring", "train": "training",
          "translate": "translation", "photograph": "photography", "cater for": "catering",
          "paint": "painting", "install": "installation", "rescue": "rescue", "lend": "lending",
          "walk": "walking", "look after": "care"}
_CLAUSE = re.compile(
    r"\s+(?:that|which|who|where)\s+(?P<does>[^.;!?]+)"
    r"|\s+(?P<gerund>teaching|helping|letting|showing|giving|bringing|turning|making|connecting|"
    r"matching|reminding|keeping|telling|offering|using)\s+(?P<rest>[^.;!?]+)", re.IGNORECASE)
_HELP = re.compile(r"\bhelps?(?:ing)?\s+(?P<who>[\w'’ -]{3,60}?)\s+(?:to\s+)?"
                   rf"(?P<benefit>(?:{'|'.join(_WORDS['benefits'].split())})\b[^.;!?,]*)",
                   re.IGNORECASE)
_SERVED = re.compile(r"(?:that|which) (?:tell|help|remind|teach|let|show|give|connect|match|bring|"
                     r"warn|train|pay|save|send)\w* (?P<who>[\w'’ -]{3,40}?) (?:to|when|how|what|"
                     r"where|with|their|find|if|about|from|for|get|keep|more|a|the)\b",
                     re.IGNORECASE)
_PURPOSE = re.compile(r"\bso (?:that )?(?P<who>they|you|people|[a-z]+s) (?:can |could |will )?"
                      r"(?P<benefit>[a-z][^.;!?,]{3,80})", re.IGNORECASE)
_FOR = re.compile(r"\bfor\s+(?P<who>[^.;:!?,()]+)", re.IGNORECASE)
_STOP = re.compile(r"\s+(?:in|at|near|on|with|to|so|without|and who|by|from|because|when|while|as|"
                   r"during|every|each|before|after)\s.*", re.IGNORECASE)
_SELLS_TO = re.compile(r"\s+to\s+(?P<who>(?!the\b|a\b|an\b|your\b|be\b)[^.;:!?,()]+)$",
                       re.IGNORECASE)
_WITH = re.compile(r"\bwith\s+(?P<what>[^.;:!?()]+)", re.IGNORECASE)
_NO_EXTRAS = re.compile(r"(?:dispute|disputes|deal|dealing|people|trouble|problems|live|living|"
                        r"work|working|begin|start|anyone|those|struggle|struggling)\s+\Z",
                        re.IGNORECASE)
_PLACE = regex.compile(
    r"\b(?P<place>(?:in|at|near|above|around|across|outside|on)\s+(?:the\s+)?\p{Lu}[\p{L}'’-]+"
    r"(?:\s+(?:and\s+|of\s+|on\s+|upon\s+|the\s+)?\p{Lu}[\p{L}'’-]+)*)")
_WHEN = re.compile(
    r"\b(?:on|every|each|this|next|from|until|in|at)\s+(?:the\s+)?"
    r"(?:(?:first|second|third|last)\s+)?"
    r"(?:\d{1,2}(?:st|nd|rd|th)?\s+)?(?:january|february|march|april|may|june|july|august|"
    r"september|october|november|december|mondays?|tuesdays?|wednesdays?|thursdays?|fridays?|"
    r"saturdays?|sundays?|spring|summer|autumn|winter|christmas|easter|weekends?|month|week|"
    r"evenings?|mornings?)(?:\s+(?:evening|morning|afternoon|night)s?)?"
    r"(?:\s+\d{1,2}(?:st|nd|rd|th)?)?\b", re.IGNORECASE)
_PRICE = re.compile(r"(?:[£$€]\s?\d[\d,.]*\d|[£$€]\s?\d|\b\d+(?:[.,]\d+)?\s?(?:euros?|pounds|"
                    r"dollars|eur|usd|gbp)\b)", re.IGNORECASE)
_ARTICLE = re.compile(r"(?:(?P<article>an?|the|some|my|our|your|one)\s+)", re.IGNORECASE)
_PREPOSITION = re.compile(r"\s+(?:in|at|on|near|above|below|beside|behind|along|from|of|by|"
                          r"around|under|over|between|across|through|into|about|for|with|to|made|"
                          r"delivered|run|held|where|while|without|"
                          r"because|if|and)\s.*", re.IGNORECASE)
# What begins with the sound of a vowel: letters alone by their names, "hour", not "union".
_SPOKEN_VOWEL = re.compile(
    r"(?!(?:uni|use|usu|uti|ute|ura|eu|ewe|one\b|once\b|u[a-z]?[- ]))[aeiou]"
    r"|(?:hour|honest|honou?r|heir)|(?-i:[FHLMNRSX][A-Z0-9]*\b)", re.IGNORECASE)
_SHORT_WHAT = 7


@dataclass(frozen=True, slots=True)
class Idea:
    """An idea, taken apart.

    Attributes:
        words: The idea in the person's own words, tidied.
        what: The thing, without article: "star evenings", "mobile bicycle repair service".
        head: Its last noun: "evenings".
        plural: Whether it takes the plural.
        article: "a", "an" or empty.
        who: Whom it is for, as they are named: "families with children"; may be empty.
        name: What it calls itself; may be empty.
        does: What it does, as a relative clause: "that comes to your office"; may be empty.
        benefit: What a customer can do then, in the second person; may be empty.
        extras: What belongs to it.
        place: Where, with its preposition; may be empty.
        when: When, with its preposition; may be empty.
        price: As it was written; may be empty.
        form: What kind of thing is offered.
        topic: What it is about.
        english: Whether the idea is told in English.
    """

    words: str
    what: str
    head: str
    plural: bool
    article: str
    who: str
    name: str
    does: str
    benefit: str
    extras: tuple[str, ...]
    place: str
    when: str
    price: str
    form: Form
    topic: Topic
    english: bool


def read_idea(words: str) -> Idea:
    """Take an idea apart; any text gives a result, an empty one too."""
    tidy = _tidied(words)
    place, when, price = (_first(pattern, tidy) for pattern in (_PLACE, _WHEN, _PRICE))
    plain = tidy
    for found in (when, price):
        plain = plain.replace(found, " ") if found else plain
    if place:
        plain = plain.replace(place, " ")
    sentences = [part.strip() for part in re.split(r"[.!?;\n]+", plain) if part.strip()] or [""]
    helped = _HELP.search(plain)
    name, first = _named(sentences[0])
    first, verb = _without_turns(first)
    does, first = _clause(first)
    extras, first = _extras(first, plain.replace(does, " ") if does else plain)
    who, first = _who(first, plain)
    if not who and (served := _SERVED.match(does)) and _are_people(served["who"]):
        who = served["who"]
    what, article = _what(first, verb, helped, extras)
    english = _is_english(tidy)
    if not what or not english:
        what, article = ("help" if helped else "our offer"), ""
    head = _PREPOSITION.sub("", what).split()[-1]
    form = _form_of(head, what, "" if helped and what == "help" else tidy)
    topic = _topic_of(what, tidy)
    plural = _is_plural(head)
    if helped and not who:
        who = helped["who"].strip()
    benefit = _second_person(helped["benefit"]) if helped else _purpose(plain)
    return Idea(
        words=tidy, what=what, head=head, plural=plural,
        article="" if plural or what == "our offer" else _article(what, head, article),
        who=_tidy_who(who), name=name, does=_agreeing(does, plural),
        benefit=benefit.strip(), extras=extras, place=place,
        when=when, price=price, form=form, topic=topic, english=english)


def _tidied(words: str) -> str:
    """Return an idea without markup, control signs and more words than anyone reads."""
    plain = regex.sub(r"<(script|style)\b.*?(?:</\1>|$)", " ", words[:40_000],
                      flags=regex.IGNORECASE | regex.DOTALL)
    plain = regex.sub(r"<[^>]{0,400}>", " ", plain)
    plain = regex.sub(r"[\p{Cc}\p{Cf}\p{Co}\p{Cs}<>{}\[\]|\\`^~*_#=]+", " ", plain)
    plain = regex.sub(r"https?://\S+|\S+@\S+", " ", plain)
    kept = " ".join(word[:_LONGEST_WORD] for word in plain.split()[:MOST_WORDS])
    return re.sub(r"\s+([,.;:!?])", r"\1", kept).strip(" ,;:-–—")


def _first(pattern: re.Pattern[str] | regex.Pattern[str], words: str) -> str:
    found = pattern.search(words)
    return found.group(0).strip() if found else ""


_NAMED = regex.compile(r"(?P<name>\p{Lu}[\p{L}\d]+(?: \p{Lu}[\p{L}\d]+){0,2}) "
                       r"(?:is|are|offers|makes|will be|sells|provides) (?=\S)")


def _named(words: str) -> tuple[str, str]:
    """Return what the thing calls itself in "Acme is a …", and the rest."""
    found = _NAMED.match(words)
    if not found or found["name"].split()[0].casefold() in _NOT_NAMES:
        return "", words
    return found["name"], words[found.end():]


def _without_turns(words: str) -> tuple[str, str]:
    """Return the sentence without "I want to sell" and the like, and the verb that was in it."""
    verb = ""
    for _ in range(3):
        found = _TURNS.match(words)
        if not found or not found.group(0).strip():
            break
        verb = (found.groupdict().get("verb") or verb).lower()
        words = words[found.end():].strip()
    return words, verb


def _clause(words: str) -> tuple[str, str]:
    """Return what the thing does, and the sentence without it."""
    found = _CLAUSE.search(words)
    if not found or not words[: found.start()].strip():
        return "", words
    before = words[: found.start()]
    if re.search(r"\bfor\s+\S+(\s+\S+){0,2}$", before) and found["does"]:
        return "", words  # "for people who": it says who they are.
    if found["gerund"]:
        stem = _third_person(found["gerund"].lower())
        return f"that {stem} {found['rest'].strip()}", before
    return words[found.start():].strip(" ,"), before


def _third_person(gerund: str) -> str:
    stem = gerund[:-3]
    stem = {"giv": "give", "mak": "make", "us": "use", "lett": "let"}.get(stem, stem)
    return stem + ("es" if stem.endswith("ch") else "s")


def _agreeing(does: str, plural: bool) -> str:
    """Return what the thing does, its first verb agreeing with one thing or several."""
    link, _, said = does.partition(" ")
    first, _, rest = said.partition(" ")
    if plural and first in {"teaches", "helps", "lets", "shows", "gives", "brings", "turns",
                            "makes", "connects", "matches", "reminds", "keeps", "tells", "offers",
                            "uses"}:
        first = "teach" if first == "teaches" else (
            "match" if first == "matches" else first[:-1])
    return f"{link} {first} {rest}".strip()


def _extras(first: str, whole: str) -> tuple[tuple[str, ...], str]:
    found = _WITH.search(first) or _WITH.search(whole)
    if not found or _NO_EXTRAS.search((first if _WITH.search(first) else whole)[: found.start()]):
        return (), first
    listed = re.sub(r"\bfor\b.*", "", found["what"], flags=re.IGNORECASE)
    parts = [part.strip() for part in re.split(r",|\band\b|&", listed)]
    kept = tuple(part for part in parts if 1 <= len(part.split()) <= 6)[:4]
    at = _WITH.search(first)
    if at is None:
        return kept, first
    audience = _FOR.search(at["what"])
    return kept, first[: at.start()] + (f" {audience.group(0)}" if audience else "")


def _who(first: str, whole: str) -> tuple[str, str]:
    """Return whom it is for, and the sentence without that."""
    for source in (first, whole):
        for found in _FOR.finditer(source):
            who = found["who"].strip()
            named = who if re.match(r"(people|anyone|everyone|those|someone)\b", who) \
                else _STOP.sub("", who)
            if _are_people(named):
                left = source[: found.start()] + source[found.end():]
                return named, left if source is first else first
    found_to = _SELLS_TO.search(first)
    if found_to and _are_people(_STOP.sub("", found_to["who"])):
        return _STOP.sub("", found_to["who"]), first[: found_to.start()]
    return "", first


def _are_people(who: str) -> bool:
    words = who.casefold().split()
    if not words or not words[0][0].isalpha() or len(words) > 14:
        return False
    if words[0] in ("anyone", "everyone", "people", "those", "busy", "all", "someone"):
        return True
    if words[0] in ("a", "an", "the", "your", "free", "sale", "rent", "hire", "just", "only", "my"):
        return False
    head = re.split(r"\s(?:who|with|that|and)\s", who.casefold())[0].split()[-1]
    return head in _PEOPLE or (head not in _NO_PEOPLE and head.endswith(_PERSONAL))


def _tidy_who(who: str) -> str:
    words = who.strip(" ,.'\"")
    return words if len(words.split()) <= 12 else " ".join(words.split()[:12])


def _what(first: str, verb: str, helped: "re.Match[str] | None", extras: tuple[str, ...],
          ) -> tuple[str, str]:
    """Return the name of the thing and the article that stood before it."""
    if helped and (verb == "help" or first.casefold().startswith("help")):
        return (extras[0], "") if extras else ("", "")
    words = re.sub(r"\s+", " ", first).strip(" ,:-")
    words = re.split(r",|:| - | – ", words)[0].strip()
    words = re.sub(r"\s+(?:wants?|needs?|is|are|has|have|will|can|looks?|seeks?)\s.*", "", words)
    words = re.sub(r"(?:\s+(?:online|delivered|sold|made|held|locally|worldwide|directly|monthly|"
                   r"weekly|daily))+$", "", words)
    if verb in _DOING:
        short = _PREPOSITION.sub("", re.sub(r"^(?:the|your|my|our|old|all)\s+", "", words))
        single = inflection.singularize(short)
        return f"{single} {_DOING[verb]}".strip().casefold(), ""
    found = _ARTICLE.match(words)
    article = found["article"].lower() if found else ""
    words = words[found.end():] if found else words
    if len(words.split()) > _SHORT_WHAT:
        words = _PREPOSITION.sub("", words)
    words = " ".join(words.split()[:_SHORT_WHAT])
    words = _dangling(words)
    return _lower_first(words), article if article in ("a", "an", "the") else ""


def _dangling(words: str) -> str:
    """Return words without a preposition or article left over at the end."""
    return re.sub(r"(?:\s+(?:in|at|on|near|from|of|by|to|for|with|a|an|the|and|or|where|that|"
                  r"who))+$", "", words.strip(), flags=re.IGNORECASE)


def _lower_first(words: str) -> str:
    """Return words in lower case where they are capitals for no reason of their own."""
    first, _, rest = words.partition(" ")
    return f"{first if first.isupper() and len(first) > 1 else first.lower()} {rest}".strip()


def _article(what: str, head: str, given: str) -> str:
    if given in ("a", "an") or (given != "the" and head.casefold() not in _MASS
                                and not head.casefold().endswith("ing")):
        return "an" if _SPOKEN_VOWEL.match(what) else "a"
    return ""


def _is_plural(noun: str) -> bool:
    low = noun.casefold().strip("'’")
    if low in _PEOPLE:
        return low != "staff"
    if low in ("news", "yoga", "series", "business", "glass", "class", "course") or low.endswith(
            ("ss", "us", "is", "ics")):
        return False
    return low.endswith("s") and str(inflection.singularize(low)) != low


def _purpose(words: str) -> str:
    found = _PURPOSE.search(words)
    return _second_person(found["benefit"]) if found else ""


_PERSONS = {"their": "your", "theirs": "yours", "they": "you", "them": "you",
            "themselves": "yourself", "they're": "you're"}


def _second_person(words: str) -> str:
    return re.sub(r"\b(?:their|theirs|they|them|themselves|they're)\b",
                  lambda found: _PERSONS[found.group(0).lower()], words, flags=re.IGNORECASE)


def _score(keywords: frozenset[str], words: list[str]) -> float:
    return sum(1.0 for word in words if word in keywords)


def _keyed(words: str) -> list[str]:
    """Return the words in lower case, each also without its plural ending."""
    found = re.findall(r"[a-zà-ÿ]+(?:-[a-z]+)?", words.casefold())
    parts = [piece for word in found for piece in ({word} | set(word.split("-")))]
    parts += [f"{one}-{two}" for one, two in itertools.pairwise(found)]
    return [form for word in parts for form in {word, word.removesuffix("s"),
                                                word.removesuffix("es")}]


def _form_of(head: str, what: str, whole: str) -> Form:
    last, name, every = _keyed(head), _keyed(what), _keyed(whole)
    return max(FORMS, key=lambda form: (4 * _score(form.keywords, last) + 2 * _score(
        form.keywords, name) + 0.5 * _score(form.keywords, every), form.likely))


def _topic_of(what: str, whole: str) -> Topic:
    name, every = _keyed(what), _keyed(whole)
    return max(FIELDS, key=lambda topic: (2 * _score(topic.keywords, name) + _score(
        topic.keywords, every), topic.likely))


def _is_english(words: str) -> bool:
    """Whether the small words are English ones, or there are none of another language."""
    found = re.findall(r"\w+", words.casefold())
    latin = len(regex.findall(r"\p{Latin}", words))
    if len(found) > 2 and latin < 0.6 * len(regex.findall(r"\p{L}", words)):
        return False
    foreign = sum(word in _FOREIGN for word in found)
    return foreign < 2 or foreign < sum(word in _COMMON for word in found)
