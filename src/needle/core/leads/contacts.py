"""Leads as contacts: vCard 3.0 (RFC 2426), which every address book reads."""

from collections.abc import Iterable, Mapping

import vobject

__all__ = ["CONTACT_FIELDS", "contact_card", "contact_cards"]

# Field of a contact, what it takes, and whether it is needed.
CONTACT_FIELDS = (("FN", "text", False), ("GIVEN", "text", False), ("FAMILY", "text", False),
                  ("EMAIL", "email", False), ("TEL", "phone", False), ("ORG", "text", False),
                  ("NOTE", "text", False))


def contact_card(uid: str, values: Mapping[str, str], source: str = "") -> str:
    """Return one contact.

    Args:
        uid: The same for the same person.
        values: By the names of `CONTACT_FIELDS`.
        source: Where the lead came from, kept as a category.
    """
    card = vobject.vCard()
    given, family = values.get("GIVEN", ""), values.get("FAMILY", "")
    full = values.get("FN") or f"{given} {family}".strip() or values.get("EMAIL") or "No name"
    if not given and not family:
        given, _, family = full.rpartition(" ") if " " in full else (full, "", "")
    card.add("uid").value = uid
    card.add("fn").value = full
    card.add("n").value = vobject.vcard.Name(family=family, given=given)
    for name, kind in (("EMAIL", "email"), ("TEL", "tel"), ("NOTE", "note")):
        if values.get(name):
            card.add(kind).value = values[name]
    if values.get("ORG"):
        card.add("org").value = [values["ORG"]]
    if source:
        card.add("categories").value = [source]
    return str(card.serialize())


def contact_cards(people: Iterable[tuple[str, Mapping[str, str]]]) -> str:
    """Return many contacts as one file, each with its id."""
    return "".join(contact_card(uid, values) for uid, values in people)
