"""An address book over CardDAV (RFC 6352): each person is one contact, new leads change it."""

import hashlib
from collections.abc import Mapping, Sequence
from urllib.parse import urljoin, urlsplit
from xml.sax.saxutils import escape

import httpx
from lxml import etree

from needle.core.leads.contacts import CONTACT_FIELDS, contact_card
from needle.core.values.counting import counted
from needle.services.adapter import (
    Access,
    Parcel,
    Receipt,
    ServiceError,
    Setting,
    TargetField,
)
from needle.services.http import Wire

__all__ = ["SETTINGS", "AddressBooks"]

SETTINGS = (Setting("address", "Address", example="https://dav.example/me/"),
            Setting("user", "Log in as", example="me"),
            Setting("key", "Password", "secret"))

_DAV, _CARD = "{DAV:}", "{urn:ietf:params:xml:ns:carddav}"
_ASK = ('<?xml version="1.0"?><propfind xmlns="DAV:"><prop><resourcetype/><displayname/>'
        "</prop></propfind>")
_SAFE = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False)


class AddressBooks:
    """The address books below one address."""

    def __init__(self, access: Access) -> None:
        self._name = access.name
        self._url = access.address.rstrip("/") + "/"
        auth = httpx.BasicAuth(access.options.get("user", ""), access.key)
        shown = next(auth.auth_flow(httpx.Request("GET", "http://x"))).headers["Authorization"]
        self._wire = Wire(access.name, {"Authorization": shown}, (shown, access.key))

    def check(self) -> str:
        """Count the address books."""
        count = len(self.targets())
        return f"{counted(count, 'address book')} found"

    def targets(self) -> Mapping[str, str]:
        """Return the address books by path (CardDAV, RFC 6352, `PROPFIND` of depth 1)."""
        answer, told, said = self._wire.ask(
            "PROPFIND", self._url, content=_ASK.encode(), good=(207,),
            headers={"Depth": "1", "Content-Type": "application/xml; charset=utf-8"})
        try:
            tree = etree.fromstring(answer.content, _SAFE)
        except etree.XMLSyntaxError as error:
            raise self._wire.nonsense(told, said) from error
        books = {}
        for part in tree.iter(f"{_DAV}response"):
            if part.find(f".//{_CARD}addressbook") is not None:
                href = part.findtext(f"{_DAV}href") or ""
                name = part.findtext(f".//{_DAV}displayname") or href.rstrip("/").split("/")[-1]
                books[urlsplit(urljoin(self._url, href)).path] = name
        return books

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return what a contact can hold; every book takes the same."""
        return [TargetField(key, kind, needed) for key, kind, needed in CONTACT_FIELDS]  # type: ignore[arg-type]

    def deliver(self, parcel: Parcel) -> Receipt:
        """Put a vCard into a book, one a person."""
        uid = self._uid(parcel)
        card = contact_card(uid, parcel.values, parcel.facts.get("form", ""))
        # What the book has is put in its place, so a second try leaves one contact.
        answer, told, said = self._wire.ask(
            "PUT", self._href(parcel, uid), content=card.encode(), good=(200, 201, 204),
            headers={"Content-Type": "text/vcard; charset=utf-8"})
        if answer.status_code == 200 and "etag" not in answer.headers:
            raise self._wire.nonsense(told, said)  # No address book answers a PUT like that.
        fresh = "added" if answer.status_code == 201 else "updated"
        return Receipt(f"{self._name} {fresh}", told, said)

    def remove(self, parcel: Parcel) -> bool:
        """Take the person's vCard out of the book."""
        self._wire.ask("DELETE", self._href(parcel, self._uid(parcel)), good=(200, 204, 404))
        return True

    def _uid(self, parcel: Parcel) -> str:
        person = (parcel.values.get("EMAIL") or parcel.key).casefold()
        return hashlib.sha256(f"needle:{person}".encode()).hexdigest()[:32]

    def _href(self, parcel: Parcel, uid: str) -> str:
        if not parcel.target:
            raise ServiceError("answer-no-book", service=self._name, final=True)
        return urljoin(self._url, escape(parcel.target).rstrip("/") + f"/{uid}.vcf")
