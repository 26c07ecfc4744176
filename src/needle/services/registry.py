"""The kinds of services that Needle knows. A further one is a module and a line here."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from needle.core.site.site import Service
from needle.running.addresses import practice_folder, read_address, shelf_file
from needle.services import contacts, files, hooks, lists, mail, payments
from needle.services.adapter import Access, Adapter, Setting
from needle.services.payments import PaymentService
from needle.services.secrecy import address_of, key_of, options_of

__all__ = ["PAYMENT_KINDS", "SERVICE_KINDS", "ServiceKind", "adapter_for", "payment_service_for"]


@dataclass(frozen=True, slots=True)
class ServiceKind:
    """One kind of service.

    Attributes:
        label: What it is called.
        words: What it is for, in one sentence.
        settings: What a person tells about one's own.
        make: Makes its client; `None` for a service that leads are not sent to.
        has_targets: It has lists or books to choose from.
        free_fields: It takes fields of any name.
        is_file: It is a file and no process; so is its stand-in.
    """

    label: str
    words: str
    settings: tuple[Setting, ...]
    make: Callable[[Access], Adapter] | None
    has_targets: bool
    free_fields: bool
    is_file: bool = False


SERVICE_KINDS: Mapping[str, ServiceKind] = {
    "list": ServiceKind("Mailing list", "Each lead becomes a member of a list.",
                        lists.SETTINGS, lists.MailingList, True, False),
    "mail": ServiceKind("E-mail", "Notices to you and letters to visitors, by SMTP.",
                        mail.SETTINGS, mail.MailServer, False, False),
    "hook": ServiceKind("Web hook", "Each lead is posted to an address of yours, signed.",
                        hooks.SETTINGS, hooks.WebHook, False, True),
    "file": ServiceKind("File", "Each lead is a line in a CSV or JSON Lines file.",
                        files.SETTINGS, files.LeadFile, False, True, is_file=True),
    "contacts": ServiceKind("Address book", "Each person is a contact, over CardDAV.",
                            contacts.SETTINGS, contacts.AddressBooks, True, False),
    "pay": ServiceKind("Payments", "Orders are paid there, and it calls back once they are.",
                       payments.SETTINGS, None, False, False),
}
PAYMENT_KINDS: Mapping[str, Callable[[Access], PaymentService]] = {"pay": payments.PayService}


def adapter_for(project: Path, service: Service) -> Adapter | None:
    """Return the client of a service that leads are sent to, or `None` while nobody knows where it
    is."""
    kind = SERVICE_KINDS.get(service.does)
    access = _access(project, service) if kind is not None and kind.make is not None else None
    return kind.make(access) if kind is not None and kind.make and access is not None else None


def payment_service_for(project: Path, service: Service) -> PaymentService | None:
    """Return the client of a payment service, or `None` while nobody knows where it is."""
    make = PAYMENT_KINDS.get(service.does)
    access = _access(project, service) if make is not None else None
    return make(access) if make is not None and access is not None else None


def _access(project: Path, service: Service) -> Access | None:
    kind = SERVICE_KINDS[service.does]
    if service.practice and kind.is_file:
        place = shelf_file(practice_folder(project, service.does))
        return Access(service.name, str(place), folder=project)
    if service.practice:
        facts = read_address(practice_folder(project, service.does))
        if facts is None:
            return None
        told = {str(name): str(value) for name, value in facts.items()}
        return Access(service.name, told.pop("url"), told.pop("key", ""),
                      dict(service.options) | told, project)
    address = address_of(service)
    if not address:
        return None
    return Access(service.name, address, key_of(service), options_of(service, kind.settings),
                  project)
