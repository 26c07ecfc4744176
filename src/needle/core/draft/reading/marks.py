"""Prices, times and limits in an idea: what a pattern finds more surely than a parser."""

import re

__all__ = ["FREE", "LIMIT", "PRICE", "WHEN", "price_in"]

_MONTHS = ("january|february|march|april|may|june|july|august|september|october|november|december|"
           "jan|feb|mar|apr|jun|jul|aug|sept?|oct|nov|dec")
_DAYS = "(?:mon|tues|wednes|thurs|fri|satur|sun)days?"
_PARTS = "mornings?|afternoons?|evenings?|nights?|weekends?"
_CLOCK = r"\d{1,2}(?:[:.]\d{2})? ?(?:am|pm|o'clock)|\d{1,2}:\d{2}|noon|midnight"
_DATE = (rf"\d{{1,2}}(?:st|nd|rd|th)?(?: ?[-–] ?\d{{1,2}}(?:st|nd|rd|th)?)?(?: of)? (?:{_MONTHS})"
         rf"(?: \d{{4}})?|(?:{_MONTHS}) \d{{1,2}}(?:st|nd|rd|th)?(?:,? \d{{4}})?")
_SEASON = "spring|summer|autumn|winter|christmas|easter"
_CALENDAR = (rf"(?:{_DATE}|(?:(?:first|second|third|fourth|last|other|next) )?(?:{_DAYS})"
             rf"(?: (?:{_PARTS}))?|(?:{_PARTS})|(?:{_MONTHS})(?: \d{{4}})?|(?:{_SEASON})"
             rf"(?: \d{{4}})?|months?|weeks?|year|{_CLOCK})\b")
_ORDINAL = (r"(?:first|second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth|eleventh|twelfth|"
            r"(?:thir|four|fif|six|seven|eigh|nine)teenth|twentieth|thirtieth|"
            r"(?:twenty|thirty)[- ](?:first|second|third|fourth|fifth|sixth|seventh|eighth|ninth))")
# "on Fridays", "every Tuesday evening", "12-13 September", "from May to June", "at 6 pm".
WHEN = re.compile(
    rf"\b(?:(?:on|every|each|this|next|from|until|till|before|by|in|at|starting(?: in| on)?) "
    rf"(?:the )?{_CALENDAR}|(?:{_DATE})|{_DAYS}(?: (?:{_PARTS}))?|weekday (?:{_PARTS})|"
    rf"(?:in|over|for) (?:\d+|two|three|four|five|six|seven|eight|ten|twelve) "
    rf"(?:days|weeks|months|evenings|weekends|hours)|once a (?:week|month|year)|"
    rf"from \d{{1,2}}(?: in the (?:morning|afternoon|evening)| ?[ap]m)\b|"
    rf"24/7|round the clock)"
    rf"(?: of (?:the|every|each) month)?(?:,? (?:the )?{_ORDINAL} of (?:{_MONTHS})\b)?"
    rf"(?:,? (?:at|from|to|until|till|and|to the|in the|[-–]) (?:the )?{_CALENDAR})*",
        re.IGNORECASE)
_AMOUNT = (r"(?:[£$€] ?\d[\d,.]*\d|[£$€] ?\d|\b\d+(?:[.,]\d+)? ?(?:euros?|pounds|dollars|quid|"
           r"eur|usd|gbp|cents|pence|€|£|\$)(?!\w))")
_UNITS = ("month|year|hour|week|day|person|head|night|lesson|piece|session|bottle|kilo|class|visit|"
          "couple|family|child|adult|seat|ticket|user|box|jar|loaf|bag|cup|pair|set|course|meal|"
          "nacht|nuit|noche|"
          "member|household|room|page|word|km|mile|team|term|weekend|evening|participant|stunde|"
          "monat|woche|jahr|heure|mois|hora|mes")
PRICE = re.compile(
    rf"(?P<before>\b(?:for|at|about|only|just|from|around|under|costs?|ab|à partir de|desde|für|"
    rf"pour|por)\s+)*(?P<price>{_AMOUNT}(?: ?[-–] ?{_AMOUNT})?)"
    rf"(?P<per>\s+(?:each|apiece|(?:for )?(?:a|an|every|the|die|je|la|le|al)\s+(?:{_UNITS})|"
    rf"(?:per|pro|par|por) \w+|for \d+ ?\w+)\b"
    rf"(?:\s+per \w+\b)?|\s?/\s?(?:{_UNITS})\b)?", re.IGNORECASE)
LIMIT = re.compile(
    r"\b(?:max(?:imum)?\.?|at most|up to|no more than|only|limited to) \d+ [a-z]+(?: [a-z]+)?"
    r"|\b\d+[ -]day (?:free )?trial|\bfree trial", re.IGNORECASE)
FREE = re.compile(r"\b(?:for free|free of charge|at no cost|costs nothing|no charge|free)\b"
                  r"(?! (?:trial|range|lance|time|from|of (?!charge)))", re.IGNORECASE)
_ABOUT = re.compile(r"(about|only|just|from|around|under|ab|à partir de|desde)\s+\Z", re.IGNORECASE)


def price_in(words: str) -> tuple[str, str, re.Match[str] | None]:
    """Return the price as it was written, what it is for, and where it stands."""
    found = PRICE.search(words)
    if found is None:
        return "", "", None
    before = _ABOUT.search(found["before"] or "")
    price = f"{before[1].lower()} {found['price']}" if before else found["price"]
    per = (found["per"] or "").strip()
    per = re.sub(r"^/\s?", "a ", per)
    per = re.sub(r"^for (?=an? )", "", per)
    return price.strip(), re.sub(r"^(?:every|the)\b", "a", re.sub(
        r"^per (?=month|week|year|day|hour|night|person)", "a ", per).replace("a hour",
            "an hour")), found
