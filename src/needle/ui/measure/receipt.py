"""The receipt of an erasure, for the person who asked for it."""

import hashlib
from collections.abc import Sequence
from datetime import UTC, datetime

from needle.store.results.erasing import Erased

__all__ = ["receipt_words"]


def receipt_words(site: str, email: str, erased: Erased, places: Sequence[str]) -> str:
    """Return what was erased when, and where else it had gone.

    The address itself is not written down, only a hash by which its owner can recognise it.
    """
    digest = hashlib.sha256(email.strip().lower().encode()).hexdigest()
    now = datetime.now(UTC).isoformat(timespec="seconds")
    lines = [
        f"Erased from {site} on {now}",
        f"Person (SHA-256 of the e-mail address in lower case): {digest}", "",
        f"Leads with their answers: {erased.leads}",
        f"Deliveries with what went over the wire: {erased.deliveries}",
        f"Forms that were begun and not sent: {erased.unfinished}",
        f"Files that were sent along: {erased.files}",
        f"Visits that can no longer be told to be this person's: {erased.visits}", ""]
    if places:
        lines += ["These services had been given the data and hold their own copies:",
                  *(f"- {place}" for place in places)]
    else:
        lines.append("No service had been given the data.")
    return "\n".join(lines) + "\n"
