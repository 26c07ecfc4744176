"""The headers that go with a published site, whoever serves it."""

from collections.abc import Mapping

__all__ = ["COMMON", "FRAMES", "HSTS", "SVG_POLICY", "WORD_POLICY"]

COMMON: Mapping[str, str] = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "strict-origin-when-cross-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=()",
    "Cross-Origin-Opener-Policy": "same-origin-allow-popups"}
# A drawing that is opened by itself fetches and runs nothing.
SVG_POLICY = "default-src 'none';style-src 'unsafe-inline';img-src data:;sandbox"
# Small pages of the host's own: words, and forms that post to it.
WORD_POLICY = ("default-src 'none';style-src 'unsafe-inline';form-action 'self';base-uri 'none';"
               "frame-ancestors 'none'")
FRAMES = "frame-ancestors 'self'"
HSTS = "max-age=31536000"
