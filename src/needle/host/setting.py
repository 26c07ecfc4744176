"""How a host is reached: settings of one running host."""

from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

from needle.core.values.strict import StrictError
from needle.host.oddities import host_of
from needle.host.refusing import HostError
from needle.store.certificates import WantedCertificate

__all__ = ["HostSetting", "SettingError"]


class SettingError(HostError):
    """A setting that makes no sense; the message says what would."""


@dataclass(frozen=True, slots=True)
class HostSetting:
    """How visitors reach a host.

    Attributes:
        public: The address that visitors type ("https://www.hill.example"); empty for the test
            address alone.
        believed: Proxies whose word about a visitor's address and scheme is taken.
        tls: The files of certificate and key; `None` for plain HTTP.
        tls_port: Where the own domain is served over https; `None` for nowhere.
        authority: The address of the ACME directory that its certificate comes from; empty to
            leave what the project says.
    """

    public: str = ""
    believed: tuple[str, ...] = ()
    tls: tuple[Path, Path] | None = None
    tls_port: int | None = None
    authority: str = ""

    def __post_init__(self) -> None:
        parts = urlsplit(self.public)
        if self.public and (parts.scheme not in ("http", "https") or not host_of(self.public)):
            raise SettingError("host-public-address", address=self.public)
        if self.authority:
            try:
                WantedCertificate(self.authority)
            except StrictError as error:
                raise SettingError("host-authority", address=self.authority[:200]) from error
        for file in self.tls or ():
            if not file.is_file():
                raise SettingError("host-certificate-missing", file=file)

    @property
    def public_host(self) -> str:
        """The name, and the port if there is one, in the public address."""
        return host_of(self.public)

    def address(self, site_address: str, port: int) -> str:
        """Return the address that links in letters begin with."""
        if self.public:
            return self.public.rstrip("/")
        scheme = "https" if self.tls else "http"
        name = f"{site_address}.localhost" if site_address else "localhost"
        return f"{scheme}://{name}:{port}"
