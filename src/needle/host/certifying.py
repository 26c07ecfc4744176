"""The certificate of the own domain: got, renewed in time, and shown to whoever asks by name."""

import logging
import ssl
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import anyio
import anyio.to_thread
import msgspec
from filelock import FileLock, Timeout

from needle.host.clock import now_ms
from needle.publish.release import Live
from needle.services.authority import AuthorityError, new_key, obtain
from needle.store.certificates import Certificates, State, WantedCertificate
from needle.store.files import Stamp, stamp_of

__all__ = ["CertificateKeeper", "names_of"]

_log = logging.getLogger(__name__)
_LOOK_S = 1.0
# A pause after faults, doubled each time: authorities count tries that fail.
_FIRST_PAUSE_S = 60
_LONGEST_PAUSE_S = 6 * 3600
# Renewed once less than this part of its time is left: of 90 days, at 30.
_LEFT = 1 / 3
# So long before its end somebody should know that it is not renewed by itself.
_ALARM_S = 14 * 86_400


def names_of(domain: str) -> tuple[str, ...]:
    """Return the names under which a site with a domain is reached, its own one first."""
    if not domain:
        return ()
    other = domain.removeprefix("www.") if domain.startswith("www.") else f"www.{domain}"
    return domain, other


class CertificateKeeper:
    """Keeps the certificate of what is live.

    Attributes:
        fault: What is wrong with it for visitors, in words; empty if nothing is.
        tls_port: Where this host is reached over https; 0 if it is not.
    """

    def __init__(self, project: Path, live: Callable[[], Live | None]) -> None:
        self._kept = Certificates(project)
        self._live = live
        self._context: ssl.SSLContext | None = None
        self._stamp: Stamp | None = None
        self._state = self._kept.state()
        self.fault = ""
        self.tls_port = 0

    def names(self) -> tuple[str, ...]:
        """Return the names under which visitors reach what is live, its own one first."""
        live = self._live()
        return names_of(live.domain) if live else ()

    # Serving

    def offered(self, token: str) -> str:
        """Return what the authority is answered for a token; nothing if it did not ask."""
        return self._kept.offered(token)

    def holds_for(self, name: str) -> bool:
        """Whether visitors of a name can be served over https."""
        certified = self._state.certified
        return bool(self.tls_port) and self._context is not None and certified is not None and (
            certified.holds_for(name, _now()))

    def worked_ms(self) -> int:
        """Return when the first visitor came over https; 0 if none did."""
        return self._state.worked_ms

    def works(self) -> None:
        """Take note that a visitor came over https."""
        if not self._state.worked_ms:
            self._keep(msgspec.structs.replace(self._state, worked_ms=now_ms()))

    def first_context(self) -> ssl.SSLContext:
        """Return what a connection begins with: it picks the certificate by the name asked for,
        so that a new one is served from the next connection on."""
        context = _context()
        context.sni_callback = self._pick
        return context

    def _pick(self, sock: ssl.SSLObject, name: str | None, first: ssl.SSLContext) -> int | None:
        certified = self._state.certified
        if self._context is None or certified is None or not name or not (
                certified.holds_for(name.lower().rstrip("."), certified.since)):
            return ssl.ALERT_DESCRIPTION_UNRECOGNIZED_NAME
        sock.context = self._context
        return None

    # Getting

    async def run(self) -> None:
        """Get it when it is wanted, and anew before it ends, until cancelled."""
        while True:
            await anyio.to_thread.run_sync(self.look)
            await anyio.sleep(_LOOK_S)

    def look(self) -> None:
        """Take in what another host of this project did, and do what is due."""
        self._state = self._kept.state()
        self._load()
        names, wanted = self.names(), self._kept.wanted()
        if wanted is not None and names and _due(self._state, wanted, names):
            try:
                with FileLock(self._kept.folder / "lock", timeout=0):
                    self._state = self._kept.state()
                    if _due(self._state, wanted, names):
                        self._get(wanted.directory, names)
            except Timeout:  # Another host of this project is at it.
                pass
        self.fault = self._what_is_wrong(names, wanted)

    def _get(self, directory: str, names: tuple[str, ...]) -> None:
        began = now_ms()
        left_out: tuple[str, ...] = ()
        try:
            account = self._kept.account() or new_key()
            self._kept.keep_account(account)
            try:
                issued = obtain(directory, account, names, self._kept.offer)
            except AuthorityError as error:
                # The name of the site shall not wait for its other one.
                if set(error.names) != {names[1]}:
                    raise
                left_out = names[1:]
                issued = obtain(directory, account, names[:1], self._kept.offer)
            self._kept.keep(issued.key, issued.chain)
        except AuthorityError as error:
            _log.warning("no certificate came: %s", error)
            self._put_off(began, str(error), error.wait_s)
        except OSError as error:
            self._put_off(began, error.strerror or type(error).__name__, 0)
        else:
            self._load()
            again = began + _LONGEST_PAUSE_S * 1000 if left_out else 0
            self._keep(State(self._kept.certified(), left_out=left_out, tried_ms=began,
                             next_ms=again, worked_ms=self._state.worked_ms))
        finally:
            self._kept.withdraw()

    def _put_off(self, began: int, why: str, wait_s: int) -> None:
        tries = self._state.tries + 1
        pause = max(wait_s, min(_FIRST_PAUSE_S * 2 ** min(tries - 1, 20), _LONGEST_PAUSE_S))
        self._keep(msgspec.structs.replace(
            self._state, fault=why[:500], tries=tries, tried_ms=began,
            next_ms=now_ms() + pause * 1000))

    def _keep(self, state: State) -> None:
        self._state = state
        try:
            self._kept.keep_state(state)
        except OSError as error:
            _log.warning("the state of the certificate cannot be kept: %s", error.strerror)

    def _load(self) -> None:
        """Serve the certificate that is kept, if it is another one than before."""
        try:
            stamp = stamp_of(self._kept.file)
            if stamp != self._stamp:
                context = _context()
                context.load_cert_chain(self._kept.file)
                self._context, self._stamp = context, stamp
        except FileNotFoundError:
            self._context, self._stamp = None, None
        except OSError as error:  # As is what the library says of a broken one.
            _log.warning("the certificate cannot be read: %s", type(error).__name__)
            self._context = None

    def _what_is_wrong(self, names: tuple[str, ...], wanted: WantedCertificate | None) -> str:
        certified = self._state.certified
        if not names or wanted is None or certified is None:
            return ""
        if not certified.holds_for(names[0], _now()):
            return (f"the certificate does not hold for {names[0]} now"
                    + (f": {self._state.fault}" if self._state.fault else ""))
        left = _seconds(certified.until) - now_ms() / 1000
        if self._state.fault and left < _ALARM_S:
            return f"the certificate ends on {certified.until[:10]}: {self._state.fault}"
        return ""


def _context() -> ssl.SSLContext:
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    context.set_alpn_protocols(["http/1.1"])
    return context


def _due(state: State, wanted: WantedCertificate, names: tuple[str, ...]) -> bool:
    """Whether a certificate should be got now."""
    if wanted.asked_ms > state.tried_ms:
        return True
    if state.next_ms > now_ms():
        return False
    certified = state.certified
    if certified is None or not set(names) <= set(certified.names):
        return True
    since, until = _seconds(certified.since), _seconds(certified.until)
    return now_ms() / 1000 > until - (until - since) * _LEFT


def _seconds(iso: str) -> float:
    return datetime.fromisoformat(iso).timestamp()


def _now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
