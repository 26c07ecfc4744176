"""E-mail by SMTP (RFC 5321), with STARTTLS or TLS and log-in."""

import smtplib
import ssl
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from email import policy

from needle.core.messages.message import Named, say
from needle.services.adapter import (
    Access,
    Parcel,
    Receipt,
    ServiceError,
    Setting,
    TargetField,
)
from needle.services.http import TIMEOUT_S

__all__ = ["SETTINGS", "MailServer"]

SETTINGS = (
    Setting("address", "Mail server", example="mail.example:587"),
    Setting("security", "Secured by", "choice", choices={
        "starttls": "STARTTLS (587)", "tls": "TLS (465)", "none": "nothing (25)"}),
    Setting("user", "Log in as", example="desk@hill.example"),
    Setting("key", "Password", "secret"),
    Setting("sender", "Letters come from", example="desk@hill.example"),
    Setting("trust", "Own certificate", example="/home/me/mail-ca.pem; empty for known ones"))

_PORTS = {"starttls": 587, "tls": 465, "none": 25}
_LONGEST = 4_000


class MailServer:
    """A mail server that takes letters for anywhere."""

    def __init__(self, access: Access) -> None:
        self._name = access.name
        self._security = access.options.get("security") or "none"
        host, _, port = access.address.partition(":")
        self._host = host
        self._port = int(port) if port.isdecimal() else _PORTS[self._security]
        self._user, self._password = access.options.get("user", ""), access.key
        self._trust = access.options.get("trust", "")

    def check(self) -> str:
        """Log in and ask for nothing."""
        with self._open() as smtp:
            smtp.noop()
        return "the server answers" + (" and knows the log-in" if self._user else "")

    def targets(self) -> Mapping[str, str]:
        """Return nothing: each letter names who gets it."""
        return {}

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return nothing: a letter is written whole."""
        return ()

    def deliver(self, parcel: Parcel) -> Receipt:
        """Hand the letter to the server."""
        letter = parcel.letter
        if letter is None:
            raise ServiceError("answer-no-letter", service=self._name, final=True)
        told = letter.as_bytes(policy=policy.SMTP).decode("utf-8", "replace")[:_LONGEST]
        with self._open(told) as smtp:
            try:
                refused = smtp.send_message(letter)
            except smtplib.SMTPRecipientsRefused as error:
                code, words = next(iter(error.recipients.values()))
                raise ServiceError("answer-recipient-refused", service=self._name,
                                   recipient=letter["To"], code=code, request=told,
                                   answer=f"{code} {_words(words)}",
                                   final=500 <= code < 600) from error
        return Receipt("letter delivered", told, f"250 taken{'; ' if refused else ''}"
                       + "; ".join(refused))

    def remove(self, parcel: Parcel) -> bool:
        """Return `False`: a letter cannot be taken back."""
        return False

    @contextmanager
    def _open(self, told: str = "") -> Iterator[smtplib.SMTP]:
        """Yield a connection that is secured and logged in, every fault told in words."""
        try:
            with self._connection() as smtp:
                if self._security == "starttls":
                    smtp.starttls(context=self._context())
                if self._user:
                    smtp.login(self._user, self._password)
                yield smtp
        except smtplib.SMTPAuthenticationError as error:
            raise self._fault("answer-login-refused", error, told) from error
        except smtplib.SMTPNotSupportedError as error:
            raise self._fault("answer-not-offered", error, told, why=error) from error
        except ssl.SSLError as error:
            raise self._fault("answer-not-secured", error, told,
                              why=error.reason or error) from error
        except TimeoutError as error:
            raise self._fault("answer-none", error, told, seconds=TIMEOUT_S) from error
        except (smtplib.SMTPException, OSError) as error:
            code = getattr(error, "smtp_code", None)
            if code:
                raise self._fault("answer-status", error, told, status=code) from error
            raise self._fault("answer-unreachable", error, told) from error

    def _connection(self) -> smtplib.SMTP:
        if self._security == "tls":
            return smtplib.SMTP_SSL(self._host, self._port, timeout=TIMEOUT_S,
                                    context=self._context())
        return smtplib.SMTP(self._host, self._port, timeout=TIMEOUT_S)

    def _context(self) -> ssl.SSLContext:
        return ssl.create_default_context(cafile=self._trust or None)

    def _fault(self, message: str, error: Exception, told: str, **values: Named) -> ServiceError:
        said = getattr(error, "smtp_error", b"")
        code = getattr(error, "smtp_code", 0)
        answer = f"{code} {_words(said)}" if code else f"{type(error).__name__}: {error}"
        return ServiceError(say(message, service=self._name, **values), request=told,
                            answer=answer, down=True)


def _words(said: bytes | str) -> str:
    return said.decode("utf-8", "replace") if isinstance(said, bytes) else said
