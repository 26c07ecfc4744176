"""Where a project's services are, and the keys to them."""

from pathlib import Path

from needle.core.site.site import Service
from needle.practice.addresses import practice_folder, read_address
from needle.store.keys import read_key

__all__ = ["list_access", "mail_access"]


def list_access(project: Path, service: Service) -> tuple[str, str] | None:
    """Return base URL and key of a mailing service, or `None` if it is not known."""
    if service.practice:
        facts = read_address(practice_folder(project, "list"))
        return (str(facts["url"]), str(facts["key"])) if facts else None
    return (service.address.rstrip("/"), read_key(service.id)) if service.address else None


def mail_access(project: Path, service: Service) -> tuple[str, int] | None:
    """Return host and port of a mail service, or `None` if it is not known."""
    if service.practice:
        facts = read_address(practice_folder(project, "mail"))
        return (str(facts["host"]), int(facts["port"])) if facts else None
    host, _, port = service.address.partition(":")
    return (host, int(port) if port.isdecimal() else 25) if host else None
