"""The receipt of an erasure, for the person who asked for it."""

import hashlib
from collections.abc import Sequence
from datetime import UTC, datetime

from needle.store.results.erasing import Erased
from needle.ui.language import tr

__all__ = ["receipt_words"]


def receipt_words(site: str, email: str, erased: Erased, places: Sequence[str]) -> str:
    """Return what was erased when, and where else it had gone.

    The address itself is not written down, only a hash by which its owner can recognise it.
    """
    digest = hashlib.sha256(email.strip().lower().encode()).hexdigest()
    now = datetime.now(UTC).isoformat(timespec="seconds")
    lines = [
        tr("Erased from {site} on {now}", site=site, now=now),
        tr("Person (SHA-256 of the e-mail address in lower case): {digest}", digest=digest), "",
        tr("Leads with their answers: {leads}", leads=erased.leads),
        tr("Deliveries with what went over the wire: {deliveries}", deliveries=erased.deliveries),
        tr("Forms that were begun and not sent: {unfinished}", unfinished=erased.unfinished),
        tr("Files that were sent along: {files}", files=erased.files),
        tr("Visits that can no longer be told to be this person's: {visits}", visits=erased.visits),
             ""]
    if erased.invoices:
        lines += [tr("These invoices stay with the name and address that they were written to, as "
                     "the law wants books to be kept: {numbers}",
                     numbers=", ".join(map(str, erased.invoices))), ""]
    if places:
        lines += [tr("These services had been given the data and hold their own copies:"),
                  *(f"- {place}" for place in places)]
    else:
        lines.append(tr("No service had been given the data."))
    return "\n".join(lines) + "\n"
