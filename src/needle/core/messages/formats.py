"""Numbers and moments as a language writes them (Unicode CLDR, by Babel)."""

from datetime import date, datetime
from functools import cache
from typing import TYPE_CHECKING

from needle.core.messages.catalogue import FALLBACK

if TYPE_CHECKING:
    from babel import Locale

__all__ = ["amount_in", "day_in", "language_name", "moment_in", "number_in", "share_in"]

_CURRENCIES = {"£": "GBP", "$": "USD", "€": "EUR"}


@cache
def _locale(language: str) -> "Locale":
    # Only now: its tables are large, and most pages show neither a number nor a date.
    from babel import Locale, UnknownLocaleError

    for name in (language, language.partition("-")[0]):
        try:
            return Locale.parse(name, sep="-")
        except (UnknownLocaleError, ValueError):
            continue
    return Locale.parse(FALLBACK)


def number_in(language: str, value: float) -> str:
    """Return a number with at most two digits after the point."""
    from babel.numbers import format_decimal

    return format_decimal(value, "#,##0.##", _locale(language))


def amount_in(language: str, value: float, unit: str) -> str:
    """Return a number with its unit; a sign of money stands where the language puts it."""
    number = number_in(language, value)
    if unit in _CURRENCIES:
        pattern = _locale(language).currency_formats["standard"].pattern
        return f"{unit}{number}" if pattern.startswith("¤") else f"{number} {unit}"
    return f"{number} {unit}".rstrip()


def share_in(language: str, value: float) -> str:
    """Return a share, 0.25, as a whole number of percent."""
    from babel.numbers import format_percent

    return format_percent(value, "#,##0%" if language.startswith("en") else None,
                          _locale(language))


def day_in(language: str, day: date) -> str:
    """Return day, month by name and year."""
    from babel.dates import format_date

    return format_date(day, "long", _spoken(language))


def moment_in(language: str, moment: datetime) -> str:
    """Return day, month by name, year, hour and minute."""
    from babel.dates import format_time

    return (f"{day_in(language, moment)}, "
            f"{format_time(moment, 'short', locale=_spoken(language))}")


def _spoken(language: str) -> "Locale":
    # English here is that of Britain, where the day comes first and a day has 24 hours.
    return _locale("en-GB" if language == "en" else language)


def language_name(language: str) -> str:
    """Return what a language is called in English: "German (Austria)"."""
    return _locale(language).get_display_name(FALLBACK) or language
