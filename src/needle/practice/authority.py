"""The practice authority: as much ACME (RFC 8555) as proving names over HTTP takes.

    GET  /directory         where everything is
    POST /account, /order   an account; an order with one proof over HTTP a name
    POST /proof/ID          looks, at the port that stands for 80 here
    POST /finish/ID, /certificate/ID

Names are looked up in the practice net of NEEDLE_NAMES; without one, every name is this machine.
"""

import asyncio
import base64
import json
import os
import secrets
from collections.abc import Awaitable, Callable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import dns.asyncresolver
import dns.exception
import httpx
from acme import jws
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from josepy.errors import Error as JoseError
from josepy.jwk import JWK
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_before, read_fault
from needle.practice.running import run_practice

__all__ = ["CAA_NAME", "FAULTS", "Authority", "make_app"]

CAA_NAME = "authority.needle-practice.example"
_NAME = "Practice authority"
_DAYS = 90
# Names the port that stands for 80 here, as the running room writes it.
_PORT_FILE = "port-80"
_ERROR = "urn:ietf:params:acme:error:"
_LOOK_S = 3
FAULTS: Mapping[str, str] = {
    "none": "works", "down": "is down (503)", "nonsense": "answers nonsense",
    "limit": "has given too many already (429)", "other": "certifies another name",
    "short": "certifies for an hour only"}
_SHORT = timedelta(hours=1)


class _RefusedError(Exception):
    """What is refused: the kind of problem (RFC 8555, 6.7), the detail, and the status."""

    def __init__(self, kind: str, detail: str, status: int = 400) -> None:
        super().__init__(detail)
        self.kind, self.status = kind, status


@dataclass
class _Proof:
    name: str
    token: str
    status: str = "pending"
    error: dict[str, str] | None = None


@dataclass
class _Order:
    proofs: list[str]
    status: str = "pending"
    chain: bytes = b""


@dataclass
class _Signed:
    """A request whose signature holds."""

    id: str
    body: dict[str, Any]
    key: JWK


@dataclass
class Authority:
    """The state of a practice authority.

    Attributes:
        folder: Where its key, its fault and the port that stands for 80 are kept.
        base: Its address.
    """

    folder: Path
    base: str
    nonces: set[str] = field(default_factory=set)
    accounts: dict[str, JWK] = field(default_factory=dict)
    proofs: dict[str, _Proof] = field(default_factory=dict)
    orders: dict[str, _Order] = field(default_factory=dict)

    def fault(self) -> str:
        """Return the fault that is switched on, or "none"."""
        return read_fault(self.folder, FAULTS)

    def nonce(self) -> str:
        """Return a number that one request may carry."""
        made = secrets.token_urlsafe(16)
        self.nonces.add(made)
        return made

    def root(self) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
        """Return the key and certificate that it signs with; made once."""
        file = self.folder / "root.pem"
        try:
            held = file.read_bytes()
        except OSError:
            held = _fresh_root()
            file.write_bytes(held)
            file.chmod(0o600)
        key = serialization.load_pem_private_key(held, None)
        assert isinstance(key, ec.EllipticCurvePrivateKey)
        return key, x509.load_pem_x509_certificate(held[held.index(b"-----BEGIN CERT"):])

    # The parts of the protocol

    def directory(self) -> dict[str, Any]:
        """Return where everything is."""
        return {"newNonce": f"{self.base}/nonce", "newAccount": f"{self.base}/account",
                "newOrder": f"{self.base}/order", "revokeCert": f"{self.base}/revoke",
                "keyChange": f"{self.base}/key",
                "meta": {"termsOfService": f"{self.base}/terms", "caaIdentities": [CAA_NAME]}}

    def account_of(self, key: JWK) -> tuple[str, bool]:
        """Return the address of a key's account, and whether it is a fresh one."""
        digest = base64.urlsafe_b64encode(key.thumbprint()).decode()[:16]
        there = f"{self.base}/account/{digest}"
        fresh = there not in self.accounts
        self.accounts[there] = key
        return there, fresh

    def order(self, names: list[str]) -> str:
        """Open an order for some names, and return its id."""
        if self.fault() == "limit":
            raise _RefusedError("rateLimited", "too many certificates for these names", 429)
        ids = []
        for name in names:
            ids.append(secrets.token_hex(6))
            self.proofs[ids[-1]] = _Proof(name, secrets.token_urlsafe(32))
        made = secrets.token_hex(6)
        self.orders[made] = _Order(ids)
        return made

    def told_order(self, order_id: str) -> dict[str, Any]:
        """Return an order as it is told."""
        order = self.orders[order_id]
        states = {self.proofs[one].status for one in order.proofs}
        if order.status == "pending":
            order.status = ("invalid" if "invalid" in states
                            else "ready" if states == {"valid"} else "pending")
        told: dict[str, Any] = {
            "status": order.status, "finalize": f"{self.base}/finish/{order_id}",
            "identifiers": [{"type": "dns", "value": self.proofs[one].name}
                            for one in order.proofs],
            "authorizations": [f"{self.base}/authorization/{one}" for one in order.proofs]}
        if order.chain:
            told["certificate"] = f"{self.base}/certificate/{order_id}"
        return told

    def told_proof(self, proof_id: str) -> dict[str, Any]:
        """Return a proof as it is told."""
        proof = self.proofs[proof_id]
        told = {"type": "http-01", "url": f"{self.base}/proof/{proof_id}", "token": proof.token,
                "status": proof.status}
        return told | ({"error": proof.error} if proof.error else {})

    def told_authorization(self, proof_id: str) -> dict[str, Any]:
        """Return what is to be proved of a name."""
        proof = self.proofs[proof_id]
        return {"status": proof.status, "identifier": {"type": "dns", "value": proof.name},
                "challenges": [self.told_proof(proof_id)]}

    async def look(self, proof_id: str, key: JWK) -> None:
        """See whether a name answers with what its owner was told."""
        proof = self.proofs[proof_id]
        thumb = base64.urlsafe_b64encode(key.thumbprint()).rstrip(b"=").decode()
        try:
            if not await _allowed(proof.name):
                raise _RefusedError("caa", f"CAA records of {proof.name} forbid it")
            at = await _address(proof.name)
            said = await _fetch(at, self._port(), proof.name, proof.token)
            if said != f"{proof.token}.{thumb}":
                raise _RefusedError("unauthorized", f"{proof.name} answers with something else")
            proof.status = "valid"
        except _RefusedError as error:
            proof.status = "invalid"
            proof.error = {"type": _ERROR + error.kind, "detail": str(error)}

    def _port(self) -> int:
        try:
            return int((self.folder / _PORT_FILE).read_text("utf-8"))
        except (OSError, ValueError):
            return 80

    def finish(self, order_id: str, request: bytes) -> None:
        """Certify what an order is for."""
        order = self.orders[order_id]
        wanted = {self.proofs[one].name for one in order.proofs}
        asked = x509.load_der_x509_csr(request)
        names = set(asked.extensions.get_extension_for_class(
            x509.SubjectAlternativeName).value.get_values_for_type(x509.DNSName))
        if self.told_order(order_id)["status"] != "ready" or names != wanted:
            raise _RefusedError("orderNotReady", f"the order is {order.status}", 403)
        if self.fault() == "other":
            names = {"elsewhere.example"}
        key, root = self.root()
        now = datetime.now(UTC)
        life = _SHORT if self.fault() == "short" else timedelta(days=_DAYS)
        made = (x509.CertificateBuilder().subject_name(x509.Name([])).issuer_name(root.subject)
                .public_key(asked.public_key()).serial_number(x509.random_serial_number())
                .not_valid_before(now - timedelta(minutes=1)).not_valid_after(now + life)
                .add_extension(x509.SubjectAlternativeName(
                    [x509.DNSName(one) for one in sorted(names)]), critical=True)
                .sign(key, hashes.SHA256()))
        order.chain = made.public_bytes(serialization.Encoding.PEM) + root.public_bytes(
            serialization.Encoding.PEM)
        order.status = "valid"


def _fresh_root() -> bytes:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(x509.NameOID.ORGANIZATION_NAME, _NAME)])
    now = datetime.now(UTC)
    made = (x509.CertificateBuilder().subject_name(name).issuer_name(name)
            .public_key(key.public_key()).serial_number(x509.random_serial_number())
            .not_valid_before(now - timedelta(days=1)).not_valid_after(now + timedelta(days=3650))
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(x509.KeyUsage(
                digital_signature=True, key_cert_sign=True, crl_sign=True,
                content_commitment=False, key_encipherment=False, data_encipherment=False,
                key_agreement=False, encipher_only=False, decipher_only=False), critical=True)
            .sign(key, hashes.SHA256()))
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption()) + made.public_bytes(serialization.Encoding.PEM)


# Looking a name up


def _resolver() -> dns.asyncresolver.Resolver | None:
    told = os.environ.get("NEEDLE_NAMES", "").split()
    if len(told) != 2:
        return None
    at, _, port = told[1].rpartition(":")
    made = dns.asyncresolver.Resolver(configure=False)
    made.nameservers, made.port, made.lifetime = [at], int(port), _LOOK_S
    return made


async def _address(name: str) -> str:
    resolver = _resolver()
    if resolver is None:
        return "127.0.0.1"
    try:
        found = str((await resolver.resolve(name, "A"))[0])
    except dns.exception.DNSException as error:
        raise _RefusedError("dns", f"{name} has no address ({type(error).__name__})") from error
    if not found.startswith("127."):
        raise _RefusedError("connection", f"{name} leads to {found}, which does not answer")
    return found


async def _allowed(name: str) -> bool:
    """Whether CAA records let this authority certify a name (RFC 8659, 3)."""
    resolver = _resolver()
    parts = name.split(".")
    for start in range(len(parts) - 1) if resolver else ():
        assert resolver is not None
        try:
            found = await resolver.resolve(".".join(parts[start:]), "CAA")
        except dns.exception.DNSException:
            continue
        issuers = [one.value.decode() for one in found if one.tag == b"issue"]
        return not issuers or CAA_NAME in issuers
    return True


async def _fetch(at: str, port: int, name: str, token: str) -> str:
    try:
        async with httpx.AsyncClient(timeout=_LOOK_S, trust_env=False) as asking:
            answer = await asking.get(f"http://{at}:{port}/.well-known/acme-challenge/{token}",
                                      headers={"Host": name})
    except httpx.HTTPError as error:
        raise _RefusedError("connection", f"{name} does not answer ({type(error).__name__})",
                            ) from error
    return answer.text.strip() if answer.status_code == 200 else ""


# The service

_Handled = Callable[[Authority, _Signed], Awaitable[Response]]


def _told(authority: Authority, body: object, status: int = 200, **headers: str) -> Response:
    return JSONResponse(body, status, {
        "Replay-Nonce": authority.nonce(), "Link": f'<{authority.base}/directory>;rel="index"',
        **{name.title(): value for name, value in headers.items()}})


def _problem(authority: Authority, error: _RefusedError) -> Response:
    answer = _told(authority, {"type": _ERROR + error.kind, "detail": str(error)}, error.status)
    answer.headers["Content-Type"] = "application/problem+json"
    return answer


async def _checked(authority: Authority, request: Request) -> _Signed:
    """Return a request whose signature, number and address are right (RFC 8555, 6.2 to 6.5)."""
    try:
        sent = jws.JWS.json_loads((await request.body()).decode())
        head = sent.signature.combined
        number = base64.urlsafe_b64encode(head.nonce or b"").rstrip(b"=").decode()
        key = authority.accounts.get(head.kid) if head.kid else head.jwk
        holds = key is not None and sent.verify(key) and (
            head.url == authority.base + request.url.path)
        body = json.loads(sent.payload or b"{}")
    except (ValueError, AttributeError, JoseError) as error:
        raise _RefusedError("malformed", type(error).__name__) from error
    if number not in authority.nonces:
        raise _RefusedError("badNonce", "that number was not given out")
    authority.nonces.discard(number)
    if key is None or not holds or not isinstance(body, dict):
        raise _RefusedError("unauthorized", "the signature does not hold", 401)
    return _Signed(request.path_params.get("id", ""), body, key)


async def _account(authority: Authority, asked: _Signed) -> Response:
    there, fresh = authority.account_of(asked.key)
    return _told(authority, {"status": "valid"}, 201 if fresh else 200, location=there)


async def _order(authority: Authority, asked: _Signed) -> Response:
    names = [str(one["value"]) for one in asked.body.get("identifiers", ())][:20]
    made = authority.order(names)
    return _told(authority, authority.told_order(made), 201,
                 location=f"{authority.base}/order/{made}")


async def _see_order(authority: Authority, asked: _Signed) -> Response:
    return _told(authority, authority.told_order(asked.id))


async def _authorization(authority: Authority, asked: _Signed) -> Response:
    return _told(authority, authority.told_authorization(asked.id))


async def _proof(authority: Authority, asked: _Signed) -> Response:
    await authority.look(asked.id, asked.key)
    return _told(authority, authority.told_proof(asked.id),
                 link=f'<{authority.base}/authorization/{asked.id}>;rel="up"')


async def _finish(authority: Authority, asked: _Signed) -> Response:
    code = str(asked.body.get("csr", ""))
    await asyncio.to_thread(authority.finish, asked.id,
                            base64.urlsafe_b64decode(code + "=" * (-len(code) % 4)))
    return _told(authority, authority.told_order(asked.id),
                 location=f"{authority.base}/order/{asked.id}")


async def _certificate(authority: Authority, asked: _Signed) -> Response:
    return Response(authority.orders[asked.id].chain,
                    media_type="application/pem-certificate-chain",
                    headers={"Replay-Nonce": authority.nonce()})


_PARTS: Mapping[str, _Handled] = {
    "/account": _account, "/order": _order, "/order/{id}": _see_order,
    "/authorization/{id}": _authorization, "/proof/{id}": _proof, "/finish/{id}": _finish,
    "/certificate/{id}": _certificate}


def make_app(folder: Path, key: str) -> Starlette:
    """Return the service over a folder."""
    held: dict[str, Authority] = {}

    def ours(request: Request) -> Authority:
        base = str(request.base_url).rstrip("/")
        return held.setdefault(base, Authority(folder, base))

    async def directory(request: Request) -> Response:
        return await broken_before(folder, request) or JSONResponse(ours(request).directory())

    async def number(request: Request) -> Response:
        return Response(status_code=200 if request.method == "HEAD" else 204, headers={
            "Replay-Nonce": ours(request).nonce(), "Cache-Control": "no-store"})

    def part(handled: _Handled) -> Callable[[Request], Awaitable[Response]]:
        async def answer(request: Request) -> Response:
            authority = ours(request)
            try:
                return await handled(authority, await _checked(authority, request))
            except _RefusedError as error:
                return _problem(authority, error)
            except (KeyError, ValueError):
                return _problem(authority, _RefusedError("malformed", "no such thing", 404))

        return answer

    return Starlette(routes=[
        Route("/directory", directory), Route("/nonce", number, methods=["GET", "HEAD"]),
        *(Route(path, part(handled), methods=["POST"]) for path, handled in _PARTS.items())])


if __name__ == "__main__":
    run_practice("The practice authority.", make_app, "/directory")
