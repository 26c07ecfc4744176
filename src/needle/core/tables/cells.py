"""What stands in a cell: taken from the words that a person or a file has, and written out again.

In a table each kind has one form: a date is "2027-08-12", a number "1299.5", an amount of money
"1299.00 EUR", a yes "yes" and a no nothing.
"""

import re
import unicodedata
from collections.abc import Callable, Mapping
from datetime import date
from decimal import Decimal, InvalidOperation
from functools import cache, lru_cache

from babel import Locale, UnknownLocaleError
from babel.dates import format_date, format_skeleton, get_month_names
from babel.numbers import format_currency, format_decimal, get_decimal_symbol, list_currencies

from needle.core.markup.markup import safe_address
from needle.core.messages.message import CoreError
from needle.core.values.language import ENGLISH, Language
from needle.core.values.tables import LONGEST_CELL, TableColumn

__all__ = ["CellError", "amount_words", "decimal_of", "land_name", "land_names", "number_of",
           "plural_categories", "shown", "sort_key", "taken"]

_SPACES = str.maketrans("", "", "  \u202f\u2009\t'’")
_NUMBER = re.compile(r"[+-]?[\d.,]*\d[\d.,]*")
_GROUPED = re.compile(r"[+-]?(?:\d*|\d{1,3}(?:\.\d{3})+|\d{1,3}(?:,\d{3})+)")
_PLAIN = re.compile(r"-?\d{1,25}(?:\.\d{1,12})?(?: [A-Z]{3})?")
_SIGNS = {"€": "EUR", "£": "GBP", "$": "USD", "¥": "JPY", "₹": "INR", "zł": "PLN", "kr": "SEK",
          "Fr.": "CHF", "CHF": "CHF", "Kč": "CZK"}
_YES = frozenset(("yes", "y", "true", "1", "x", "ja", "oui", "si", "sí", "sì", "on", "✓"))
_NO = frozenset(("no", "n", "false", "0", "-", "nein", "non", "nee", "off", ""))
_ISO = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?")
_DAY_FIRST = re.compile(r"(\d{1,2})[./-] ?(\d{1,2})[./-] ?(\d{4}|\d{2})")
_IN_WORDS = re.compile(r"(?:[^\W\d]+,? )?(\d{1,2})(?:st|nd|rd|th|\.)? ?(?:of |de )?"
                       r"([^\W\d]+)\.?,? (?:de )?(\d{4})")
_MONTH_FIRST = re.compile(r"(?:[^\W\d]+,? )?([^\W\d]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})")
# A comma stands within names of pictures too, but not right after the ending of one.
_PICTURES = re.compile(r"[;|\n]|(?<=\.[a-zA-Z0-9]{3}),|(?<=\.[a-zA-Z0-9]{4}),")
_LAND = re.compile("[A-Z]{2}")
# Groups of countries, and places that only locales know.
_NO_LANDS = frozenset(("EU", "EZ", "QO", "UN", "XA", "XB", "ZZ"))
_CATEGORIES = ("zero", "one", "two", "few", "many", "other")
_SEPARATORS = re.compile(r"[,;|]")


class CellError(CoreError):
    """Words that cannot stand in a column of their kind; the message says what would fit."""


def taken(column: TableColumn, words: str, language: Language) -> str:
    """Return words in the one form of a column's kind.

    Args:
        language: That of whoever wrote them: how numbers and dates are meant.

    Raises:
        CellError: They are nothing of that kind.
    """
    tidy = _tidy(words, column.kind == "long")
    if len(tidy) > LONGEST_CELL:
        raise CellError("cell-long", most=LONGEST_CELL, count=len(tidy))
    if not tidy:
        return ""
    return _TAKERS[column.kind](column, tidy, language)


def _tidy(words: str, lines: bool) -> str:
    kept = "".join(sign if sign.isprintable() or (sign == "\n" and lines) else " "
                   for sign in words.replace("\r\n", "\n").replace("\r", "\n"))
    parts = kept.split("\n") if lines else [kept]
    return "\n".join(" ".join(part.split()) for part in parts).strip()


def _text(_: TableColumn, words: str, language: Language) -> str:
    return words


def _number(_: TableColumn, words: str, language: Language) -> str:
    number = decimal_of(words, language)
    if number is None:
        raise CellError("cell-number", given=words[:60])
    return _plain(number)


def _plain(number: Decimal) -> str:
    return f"{number:f}" if number == number.to_integral() else f"{number.normalize():f}"


def decimal_of(words: str, language: Language) -> Decimal | None:
    """Return a number however it is grouped: "1.299,00", "1,299.00", "1 299", "1'299"; `None` for
    what is none."""
    bare = words.translate(_SPACES)
    if _NUMBER.fullmatch(bare) is None or len(bare) > 30:
        return None
    points, commas = bare.count("."), bare.count(",")
    if points and commas:
        mark = max(".,", key=bare.rfind)
    elif points + commas == 1:
        mark = "." if points else ","
        # Three digits after the only sign are thousands, unless the language says otherwise.
        if len(bare.rpartition(mark)[2]) == 3 and mark != _decimal_sign(language):
            mark = ""
    else:
        mark = ""
    whole, _, part = bare.rpartition(mark) if mark else (bare, "", "")
    if _GROUPED.fullmatch(whole) is None or re.search(r"[.,]", part):
        return None
    digits = re.sub(r"[.,]", "", whole) + (f".{part}" if part else "")
    try:
        return Decimal(digits or "0")
    except InvalidOperation:
        return None


@cache
def _decimal_sign(language: Language) -> str:
    return str(get_decimal_symbol(_locale(language)))


@cache
def _locale(language: Language) -> Locale:
    try:
        # English of no country is written as Needle itself writes it: the day before the month.
        return Locale.parse("en_GB" if language == ENGLISH else language.replace("-", "_"))
    except (UnknownLocaleError, ValueError):
        return Locale("en")


def _money(_: TableColumn, words: str, language: Language) -> str:
    currency, rest = "", words
    for sign, code in _SIGNS.items():
        if sign in rest:
            currency, rest = code, rest.replace(sign, "", 1)
            break
    named = re.search(r"(?<![A-Za-z])[A-Za-z]{3}(?![A-Za-z])", rest)
    if not currency and named and named.group().upper() in list_currencies():
        currency, rest = named.group().upper(), rest.replace(named.group(), "", 1)
    number = decimal_of(rest.strip().removesuffix(",-").removesuffix(".-"), language)
    if number is None:
        raise CellError("cell-money", given=words[:60])
    return f"{number.quantize(Decimal('0.01'))} {currency}".strip()


def _date(_: TableColumn, words: str, language: Language) -> str:
    for pattern, read in ((_ISO, _of_iso), (_DAY_FIRST, _of_numbers), (_IN_WORDS, _of_words),
                          (_MONTH_FIRST, _of_words_turned)):
        if found := pattern.fullmatch(words):
            try:
                return read(found, language).isoformat()
            except ValueError:
                break
    raise CellError("cell-date", given=words[:60])


def _of_iso(found: re.Match[str], _: Language) -> date:
    return date(int(found[1]), int(found[2]), int(found[3]))


def _of_numbers(found: re.Match[str], language: Language) -> date:
    year = int(found[3]) + (2000 if len(found[3]) == 2 else 0)
    first, second = int(found[1]), int(found[2])
    if language.lower() in ("en-us", "en_us") and "/" in found[0]:
        first, second = second, first
    return date(year, second, first)


def _of_words(found: re.Match[str], language: Language) -> date:
    return date(int(found[3]), _month(found[2], language), int(found[1]))


def _of_words_turned(found: re.Match[str], language: Language) -> date:
    return date(int(found[3]), _month(found[1], language), int(found[2]))


def _month(name: str, language: Language) -> int:
    """Return the number of a month.

    Raises:
        ValueError: None is called so, in the language or in English.
    """
    low = _flat(name)
    for spoken in (language, "en"):
        for width in ("wide", "abbreviated"):
            for number, known in get_month_names(width, locale=_locale(spoken)).items():
                if _flat(str(known)).rstrip(".") == low:
                    return int(number)
    raise ValueError(name)


def _flat(words: str) -> str:
    return "".join(sign for sign in unicodedata.normalize("NFKD", words.casefold())
                   if not unicodedata.combining(sign))


def _yes(_: TableColumn, words: str, language: Language) -> str:
    low = words.casefold()
    if low not in _YES | _NO:
        raise CellError("cell-yes", given=words[:60])
    return "yes" if low in _YES else ""


def _picture(_: TableColumn, words: str, language: Language) -> str:
    return re.split(r"[\\/]", words)[-1]


def _pictures(_: TableColumn, words: str, language: Language) -> str:
    names = (re.split(r"[\\/]", name.strip())[-1] for name in _PICTURES.split(words))
    return "; ".join(dict.fromkeys(filter(None, names)))


def _choice(column: TableColumn, words: str, language: Language) -> str:
    if column.choices and words not in column.choices:
        known = next((one for one in column.choices if one.casefold() == words.casefold()), "")
        if not known:
            raise CellError("cell-choice", given=words[:60], known=", ".join(column.choices[:12]))
        return known
    return words


def _tags(_: TableColumn, words: str, language: Language) -> str:
    return ", ".join(dict.fromkeys(filter(None, map(str.strip, _SEPARATORS.split(words)))))


def _address(_: TableColumn, words: str, language: Language) -> str:
    whole = words if re.match(r"[a-z][a-z0-9+.-]*:", words, re.IGNORECASE) else f"https://{words}"
    if " " in words or safe_address(whole) == "#":
        raise CellError("cell-address", given=words[:60])
    return whole


_TAKERS: Mapping[str, Callable[[TableColumn, str, Language], str]] = {
    "text": _text, "long": _text, "number": _number, "money": _money, "date": _date, "yes": _yes,
    "picture": _picture, "pictures": _pictures, "choice": _choice, "tags": _tags,
    "address": _address, "link": _text}


def shown(column: TableColumn, cell: str, shape: str, language: Language) -> str:
    """Return what visitors read of a cell.

    Args:
        shape: A key of `values.tables.SHAPES`; one that does not fit the kind changes nothing.
    """
    if not cell:
        return ""
    try:
        words = _WRITERS.get(column.kind, _as_it_is)(cell, shape, language)
        if shape == "counted" and column.counts:
            words = f"{words} {_form(column.counts, _known(cell), language)}"
    except (ArithmeticError, ValueError):
        words = cell  # A project from elsewhere may hold anything; it is words then.
    return _CASES.get(shape, str)(words)


def plural_categories(language: Language) -> tuple[str, ...]:
    """Return the forms of words that a language tells apart by number: CLDR's plural categories,
    in CLDR's order."""
    known = {*_locale(language).plural_form.tags, "other"}
    return tuple(one for one in _CATEGORIES if one in known)


def _form(forms: tuple[str, ...], number: Decimal, language: Language) -> str:
    place = plural_categories(language).index(_locale(language).plural_form(number))
    # Words that were given for a language with fewer forms: the last one is the most general.
    return forms[min(place, len(forms) - 1)]


def number_of(cell: str) -> Decimal | None:
    """Return a number or an amount as a number; `None` for a cell that holds none."""
    return Decimal(cell.partition(" ")[0]) if _PLAIN.fullmatch(cell) else None


@lru_cache(20_000)
def amount_words(cell: str, language: Language) -> str:
    """Return an amount of money as visitors read it."""
    try:
        return _amount(cell, "", language)
    except (ArithmeticError, ValueError):
        return cell


def land_name(code: str, language: Language) -> str:
    """Return the name of a country of two letters (ISO 3166-1) in a language."""
    return str(_locale(language).territories.get(code, code))


def land_names(language: Language) -> dict[str, str]:
    """Return the countries of ISO 3166-1 by their two letters, in the order of their names."""
    names = {str(code): str(name) for code, name in _locale(language).territories.items()
             if _LAND.fullmatch(str(code)) and code not in _NO_LANDS}
    return dict(sorted(names.items(), key=lambda one: _flat(one[1])))


def _as_it_is(cell: str, shape: str, language: Language) -> str:
    return cell


def _grouped(cell: str, shape: str, language: Language) -> str:
    return str(format_decimal(_known(cell), locale=_locale(language)))


def _known(cell: str) -> Decimal:
    number = number_of(cell)
    if number is None:
        raise ValueError(cell)
    return number


def _amount(cell: str, shape: str, language: Language) -> str:
    number, currency, locale = _known(cell), cell.partition(" ")[2], _locale(language)
    whole = shape == "round" or number == number.to_integral()
    if not currency:
        return str(format_decimal(number, "#,##0" if whole else "#,##0.00", locale=locale))
    pattern = locale.currency_formats["standard"].pattern
    return str(format_currency(number, currency, re.sub(r"\.0+", "", pattern) if whole else None,
                               locale=locale, currency_digits=not whole))


def _day(cell: str, shape: str, language: Language) -> str:
    day = date.fromisoformat(cell)
    if shape == "day":
        return str(format_skeleton("MMMMd", day, locale=_locale(language)))
    return str(format_date(day, "short" if shape == "short" else "long",
                           locale=_locale(language)))


_WRITERS: Mapping[str, Callable[[str, str, Language], str]] = {
    "number": _grouped, "money": _amount, "date": _day}
_CASES: Mapping[str, Callable[[str], str]] = {
    "capitals": str.upper, "small": str.lower, "first": lambda words: words[:1].upper() + words[1:]}


def sort_key(column: TableColumn, cell: str) -> tuple[int, Decimal, str]:
    """Return what a cell is put in order by: numbers as numbers, empty ones last."""
    if not cell:
        return (2, Decimal(0), "")
    if column.kind in ("number", "money") and (number := number_of(cell)) is not None:
        return (0, number, "")
    return (1, Decimal(0), _flat(cell))
