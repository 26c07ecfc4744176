"""Campaign links: an address with UTM parameters, and its QR picture."""

import io
from collections.abc import Mapping
from urllib.parse import parse_qsl, quote, urlencode, urlsplit, urlunsplit

import segno

__all__ = ["UTM", "campaign_link", "qr_picture"]

# Parameter, what it tells, and an example.
UTM = (("utm_source", "Where the link stands", "newsletter"),
       ("utm_medium", "What kind of place that is", "email"),
       ("utm_campaign", "Which campaign", "meteor-night"),
       ("utm_term", "Which key words", ""), ("utm_content", "Which of several links", ""))


def campaign_link(address: str, told: Mapping[str, str]) -> str:
    """Return an address with these parameters, spaces as hyphens and lower case.

    What the address holds already stays; a parameter told anew takes its place.

    Raises:
        ValueError: The address is not one of the web.
    """
    parts = urlsplit(address.strip())
    if parts.scheme not in ("http", "https") or not parts.netloc:
        raise ValueError("The address begins with https://, like https://hill.example/night.")
    fresh = {key: "-".join(value.split()).lower() for key, value in told.items() if value.strip()}
    kept = [(key, value) for key, value in parse_qsl(parts.query, keep_blank_values=True)
            if key not in fresh]
    query = urlencode([*kept, *fresh.items()], quote_via=quote)
    return urlunsplit((parts.scheme, parts.netloc, parts.path, query, parts.fragment))


def qr_picture(address: str, kind: str = "png") -> bytes:
    """Return the QR code (ISO/IEC 18004) of an address as "png" or "svg", error level M."""
    out = io.BytesIO()
    segno.make(address, error="m", micro=False).save(out, kind=kind, scale=8, border=4)
    return out.getvalue()
