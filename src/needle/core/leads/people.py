"""The normal form of an e-mail address: the same for the same person, however it was typed."""

import unicodedata

__all__ = ["normal_address"]


def normal_address(address: str) -> str:
    """Return an address as it is compared: NFKC, case folded, the domain in its ASCII form
    (RFC 5891). What is no address is folded alike. Never used to write to anybody.

    "ÉVA@Hügel.example" is "éva@hügel.example", however the accents are composed; "eva@…" is
    somebody else.
    """
    folded = _composed(_composed(address.strip()).casefold())
    name, at, domain = folded.rpartition("@")
    return f"{name}{at}{_ascii(domain)}"[:320] if at else folded[:320]


def _composed(words: str) -> str:
    return unicodedata.normalize("NFKC", words)


def _ascii(domain: str) -> str:
    try:
        return domain.encode("idna").decode("ascii")
    except UnicodeError:
        return domain
