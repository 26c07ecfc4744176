"""Certificates from an authority that speaks ACME (RFC 8555), proved over HTTP (8.3)."""

import contextlib
import datetime
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import requests
from acme import challenges, client, errors, messages
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from josepy.errors import Error as JoseError
from josepy.jwa import ES256
from josepy.jwk import JWKEC

from needle.core.messages.message import Message, Named, say
from needle.services.adapter import ServiceError
from needle.store.certificates import read_certificate

__all__ = ["AuthorityError", "Issued", "Terms", "new_key", "obtain", "terms_of"]

_WAIT_S = 20
_WITHIN_S = 120
_LONGEST = 300
_TRIES = 5


class AuthorityError(ServiceError):
    """No certificate came; the message says why.

    Attributes:
        names: Those that were not proved; empty if it is not about a name.
        wait_s: For how long the authority asks not to be asked again; 0 if it said nothing.
    """

    def __init__(self, message: str | Message, /, *, names: Sequence[str] = (), wait_s: int = 0,
                 **values: Named) -> None:
        super().__init__(message if isinstance(message, Message) else say(message, **values))
        self.names = tuple(names)
        self.wait_s = wait_s


@dataclass(frozen=True, slots=True)
class Issued:
    """What came: the key and the chain, the own certificate first, both as PEM."""

    key: bytes
    chain: bytes


@dataclass(frozen=True, slots=True)
class Terms:
    """What an authority says of itself.

    Attributes:
        address: Where its terms stand; empty if it has none.
        names: By which CAA records call it.
    """

    address: str = ""
    names: tuple[str, ...] = ()


def new_key() -> bytes:
    """Return a fresh private key (P-256) as PEM."""
    return ec.generate_private_key(ec.SECP256R1()).private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption())


def terms_of(directory: str) -> Terms:
    """Return what the authority at an address says of itself.

    Raises:
        AuthorityError: It does not answer, or not as one.
    """
    with _in_words(directory):
        meta = client.ClientV2.get_directory(directory, _net(new_key())).meta
        return Terms(str(meta.terms_of_service or "")[:_LONGEST],
                     tuple(str(one)[:_LONGEST] for one in meta.caa_identities or ())[:8])


def obtain(directory: str, account: bytes, names: Sequence[str],
           offer: Callable[[str, str], None]) -> Issued:
    """Get one certificate for some names.

    Args:
        account: The key of the account, as PEM; one is opened for it where there is none.
        names: All of them in one certificate.
        offer: Told a token and the words that `/.well-known/acme-challenge/TOKEN` must answer,
            for each name, before the authority looks.

    Raises:
        AuthorityError: None came.
    """
    with _in_words(directory):
        net = _net(account)
        asked = client.ClientV2(client.ClientV2.get_directory(directory, net), net)
        _enter(asked, net)
        key = new_key()
        order = asked.new_order(_request(key, names))
        for one in order.authorizations:
            if one.body.status == messages.STATUS_VALID:
                continue
            proof = next((step for step in one.body.challenges
                          if isinstance(step.chall, challenges.HTTP01)), None)
            if proof is None:
                raise AuthorityError("authority-no-http", names=[one.body.identifier.value],
                                     authority=directory)
            answer, words = proof.response_and_validation(net.key)
            offer(proof.chall.encode("token"), words)
            asked.answer_challenge(proof, answer)
        # The library compares with the machine's own time without a zone.
        until = datetime.datetime.now() + datetime.timedelta(seconds=_WITHIN_S)
        chain = asked.poll_and_finalize(order, until).fullchain_pem.encode()
    facts = read_certificate(key + chain)
    if facts is None or not set(names) <= set(facts.names):
        raise AuthorityError("authority-other", authority=directory)
    return Issued(key, chain)


class _Net(client.ClientNetwork):
    """Sends again while the authority says that a nonce is not good (RFC 8555, 6.5): the library
    does so once, and an authority that throws away its nonces may refuse twice in a row."""

    def post(self, *args: Any, **kwargs: Any) -> requests.Response:
        for _ in range(_TRIES):
            try:
                return super().post(*args, **kwargs)
            except messages.Error as error:
                if error.code != "badNonce":
                    raise
        return super().post(*args, **kwargs)


def _net(account: bytes) -> _Net:
    key = serialization.load_pem_private_key(account, None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    return _Net(JWKEC(key=key), alg=ES256, user_agent="needle", timeout=_WAIT_S)


def _enter(asked: client.ClientV2, net: client.ClientNetwork) -> None:
    """Open an account, or use the one that the key has already."""
    try:
        asked.new_account(messages.NewRegistration.from_data(terms_of_service_agreed=True))
    except errors.ConflictError as error:
        net.account = messages.RegistrationResource(uri=error.location,
                                                    body=messages.Registration())


def _request(key: bytes, names: Sequence[str]) -> bytes:
    private = serialization.load_pem_private_key(key, None)
    assert isinstance(private, ec.EllipticCurvePrivateKey)
    return x509.CertificateSigningRequestBuilder().subject_name(x509.Name([])).add_extension(
        x509.SubjectAlternativeName([x509.DNSName(one) for one in names]), critical=False,
    ).sign(private, hashes.SHA256()).public_bytes(serialization.Encoding.PEM)


@contextlib.contextmanager
def _in_words(directory: str) -> Iterator[None]:
    """Turn what goes wrong with an authority into words."""
    try:
        yield
    except AuthorityError:
        raise
    except errors.ValidationError as error:
        found = [(one.body.identifier.value, step.error) for one in error.failed_authzrs
                 for step in one.body.challenges if step.error is not None]
        raise AuthorityError("authority-not-proved", names=[name for name, _ in found],
                             names_of=", ".join(name for name, _ in found),
                             why=_detail(found[0][1]) if found else "") from error
    except messages.Error as error:
        limit = error.code == "rateLimited"
        names = [one.identifier.value for one in error.subproblems or () if one.identifier]
        raise AuthorityError("authority-limit" if limit else "authority-refused", names=names,
                             wait_s=3600 if limit else 0, authority=directory,
                             why=_detail(error)) from error
    except errors.TimeoutError as error:
        raise AuthorityError("authority-slow", authority=directory,
                             seconds=str(_WITHIN_S)) from error
    except requests.RequestException as error:
        raise AuthorityError("authority-silent", authority=directory,
                             why=type(error).__name__) from error
    # What comes is a stranger's: whatever the library makes of it is his nonsense.
    except (errors.Error, JoseError, ValueError, KeyError, TypeError,
            AttributeError) as error:
        raise AuthorityError("authority-nonsense", authority=directory,
                             why=type(error).__name__) from error


def _detail(error: messages.Error) -> str:
    return str(error.detail or error.description or error.typ)[:_LONGEST]
