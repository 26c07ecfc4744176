"""An idea in another language than English: its own words are kept, and only facts taken out."""

import re

import regex

from needle.core.draft.reading.marks import price_in
from needle.core.draft.slots import Slots

__all__ = ["foreign_slots"]

_TURNS = regex.compile(
    r"(?:wir|ich) (?:bieten|biete|verkaufen|verkaufe|möchten?|wollen|haben|machen|eröffnen|sind) |"
    r"(?:nous|je|on) (?:proposons|propose|vendons|vends|voulons|veux|offrons|sommes|avons) |"
    r"(?:ofrecemos|ofrezco|vendemos|vendo|queremos|quiero|somos|tenemos) |"
    r"(?:offriamo|vendiamo|vogliamo|siamo) |(?:wij|we) (?:bieden|verkopen|willen|zijn) |"
    r"(?:oferecemos|vendemos|queremos|somos) ", regex.IGNORECASE)
_WHO = {"de": r"für", "fr": r"pour", "es": r"para", "it": r"per", "nl": r"voor", "pt": r"para"}
_WHERE = {"de": r"in|bei|am|im", "fr": r"à|en|au|dans", "es": r"en", "it": r"a|in", "nl": r"in|bij",
          "pt": r"em|no|na"}
_WHEN = {
    "de": r"jede[nrs]? \p{Lu}\p{L}+(?: um \d{1,2}(?:[:.]\d\d)? uhr)?|ab \p{Lu}\p{L}+|"
          r"am \d{1,2}\. ?\p{Lu}\p{L}+|(?:montags|dienstags|mittwochs|donnerstags|freitags|"
          r"samstags|"
          r"sonntags)(?: um \d{1,2}(?:[:.]\d\d)? uhr)?",
    "fr": r"(?:chaque|tous les|le) (?:lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche)s?"
          r"(?: soirs?| matins?)?(?: à \d{1,2} ?h(?:\d\d)?)?",
    "es": r"(?:cada|los|el) (?:lunes|martes|miércoles|jueves|viernes|sábados?|domingos?)"
          r"(?: por la \p{L}+)?(?: a las \d{1,2})?",
    "it": r"(?:ogni|il) (?:lunedì|martedì|mercoledì|giovedì|venerdì|sabato|domenica)",
    "nl": r"(?:elke|op) (?:maandag|dinsdag|woensdag|donderdag|vrijdag|zaterdag|zondag)(?:avond)?",
    "pt": r"(?:toda|cada|à) (?:segunda|terça|quarta|quinta|sexta)(?:-feira)?|(?:todo|cada) "
          r"(?:sábado|domingo)"}
_FREE = re.compile(r"\b(?:kostenlos|gratis|gratuite?s?|gratuito|kostenfrei)\b", re.IGNORECASE)
_LONGEST_WHAT = 90


_OFFERS = (
    ("course", r"kurs|seminar|unterricht|schulung|lehrgang|cours|formation|atelier|stage|"
               r"clases?|curso|"
               r"taller|corso|lezioni|cursus|lessen|aulas"),
    ("software", r"app|software|plattform|plateforme|logiciel|aplicación|piattaforma|programa"),
    ("cause", r"petition|pétition|petición|petizione|spenden?|verein zur|dons?|donación|"
              r"initiative"),
    ("event", r"konzert|fest|abend|führung|tour|lauf|concert|fête|soirée|visite|concierto|fiesta|"
              r"carrera|concerto|festa|wandeling|feest"),
    ("place", r"laden|buchhandlung|café|cafe|restaurant|hotel|pension|studio|librairie|boutique|"
              r"gîte|tienda|librería|negozio|libreria|winkel|loja|museum"),
    ("membership", r"verein|club|mitgliedschaft|association|asociación|associazione|vereniging|"
                   r"abo"),
    ("service", r"reparieren|reparatur|service|beratung|reinigung|pflege|réparation|conseil|"
                r"nettoyage|"
                r"reparación|servicio|asesoría|riparazione|servizio|onderhoud|reparatie|hilfe"))


def _offer_of(words: str) -> str:
    """Return the kind of offer that the words of another language speak of."""
    low = words.casefold()
    return next((offer for offer, pattern in _OFFERS
                 if regex.search(rf"(?:{pattern})\b", low)), "product")


def _last(pattern: str, words: str) -> "regex.Match[str] | None":
    """Return the last place of a pattern: what a thing is of stands before where it is."""
    return next(reversed(list(regex.finditer(pattern, words))), None)


def foreign_slots(tidy: str, language: str) -> Slots:
    """Return the slots of an idea that is not told in English.

    What it is stays as it was told, up to whom it is for, where, when and at what price.
    """
    sentences = [part.strip(" .,;") for part in re.split(r"(?<=[.!?])\s+|[;\n]+", tidy)
                 if part.strip(" .,;!?")]
    first = sentences[0] if sentences else ""
    first = _TURNS.sub("", first, count=1) if _TURNS.match(first) else first
    price, per, at = price_in(tidy)
    when = regex.search(_WHEN[language], tidy, regex.IGNORECASE)
    where = _last(rf"\b(?:{_WHERE[language]}) \p{{Lu}}[\p{{L}}-]+(?:[ "
                         rf"-]\p{{Lu}}[\p{{L}}-]+)*",
                         tidy)
    who = regex.search(rf"\b{_WHO[language]} (?P<who>[^,.;\d]+?(?:, (?:die|der|qui|que|che) "
                       rf"[^,.;]+)?)"
                       rf"(?=,|\.|;|$| (?:{_WHERE[language]}) \p{{Lu}}|\d)", first)
    place = where.group(0) if where else ""
    people = who["who"].strip() if who and not price_in(who["who"])[0] else ""
    what = first
    for taken in (at.group(0) if at else "", when.group(0) if when else "", place,
                  f"{_WHO[language]} {people}" if people else ""):
        what = what.replace(taken, " ") if taken else what
    what = regex.sub(r"\s+", " ", regex.sub(r"\s*,(?:\s*,)*", ",", what)).strip(" ,.;:!?")
    what = regex.sub(r"[ ,]+(?:oder|und|ou|et|o|y|e|of|en|ou)$", "", what)
    return Slots(idea=tidy, language=language, offer=_offer_of(tidy), what=what[:_LONGEST_WHAT],
        who=people, place=place,
                 when=when.group(0) if when else "", price=price, per=per,
                 free=bool(_FREE.search(tidy)) and not price,
                 facts=tuple(sentence[:1].upper() + sentence[1:] for sentence in sentences[1:9]))
