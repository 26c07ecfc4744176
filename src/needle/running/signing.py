"""How what is posted from one process to another is signed."""

import hashlib
import hmac

__all__ = ["signature"]


def signature(secret: str, moment_s: int, body: bytes) -> str:
    """Return the header that proves who sent a body, and when: the HMAC-SHA-256 (RFC 2104) of
    `SECONDS.BODY` under a secret, as `t=SECONDS,v1=HEX`."""
    digest = hmac.new(secret.encode(), f"{moment_s}.".encode() + body, hashlib.sha256)
    return f"t={moment_s},v1={digest.hexdigest()}"
