"""The kinds of services that Needle knows. A further one is a module and a line here."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from needle.core.site.site import Service
from needle.running.addresses import practice_folder, read_address, shelf_file
from needle.services import contacts, files, hooks, lists, mail
from needle.services.adapter import Access, Adapter, Setting
from needle.services.secrecy import address_of, key_of, options_of

__all__ = ["SERVICE_KINDS", "ServiceKind", "adapter_for"]


@dataclass(frozen=True, slots=True)
class ServiceKind:
    """One kind of service.

    Attributes:
        label: What it is called.
        words: What it is for, in one sentence.
        settings: What a person tells about one's own.
        make: Makes its client.
        has_targets: It has lists or books to choose from.
        free_fields: It takes fields of any name.
        is_file: It is a file and no process; so is its stand-in.
    """

    label: str
    words: str
    settings: tuple[Setting, ...]
    make: Callable[[Access], Adapter]
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
}


def adapter_for(project: Path, service: Service) -> Adapter | None:
    """Return the client of a service, or `None` while nobody knows where it is."""
    kind = SERVICE_KINDS.get(service.does)
    if kind is None:
        return None
    if service.practice and kind.is_file:
        place = shelf_file(practice_folder(project, service.does))
        return kind.make(Access(service.name, str(place), folder=project))
    if service.practice:
        facts = read_address(practice_folder(project, service.does))
        if facts is None:
            return None
        told = {str(name): str(value) for name, value in facts.items()}
        return kind.make(Access(service.name, told.pop("url"), told.pop("key", ""),
                                dict(service.options) | told, project))
    address = address_of(service)
    if not address:
        return None
    return kind.make(Access(service.name, address, key_of(service),
                            options_of(service, kind.settings), project))
