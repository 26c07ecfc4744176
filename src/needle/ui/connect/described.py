"""What services say of themselves, read beside the window and remembered."""

import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.core.edit.threads import Wanted
from needle.core.site.site import Service
from needle.core.values.ids import Id
from needle.services.adapter import Adapter, ServiceError
from needle.services.payments import PaymentService
from needle.services.registry import (
    SERVICE_KINDS,
    adapter_for,
    payment_service_for,
)
from needle.ui.language import tr

__all__ = ["ServiceFacts", "ServiceReader"]

_AGAIN_S = 15.0


@dataclass(frozen=True)
class ServiceFacts:
    """What a service said when it was last asked.

    Attributes:
        words: How it is, in words; a fault if `fault`.
        targets: Its lists or books, by key.
        fields: By the target's key; "" where there are none.
        read_at: On the monotonic clock.
    """

    words: str
    fault: bool = False
    targets: Mapping[str, str] = field(default_factory=dict)
    fields: Mapping[str, Sequence[Wanted]] = field(default_factory=dict)
    read_at: float = 0.0


class _Reading(QRunnable):
    """Asks one service in a thread."""

    class Said(QObject):
        """Carries the answer back to the window."""

        done = pyqtSignal(str, object)

    def __init__(self, service: Service, adapter: Adapter | PaymentService) -> None:
        super().__init__()
        self.said = self.Said()
        self._service = service
        self._client = adapter
        self.setAutoDelete(False)

    def run(self) -> None:
        self.said.done.emit(self._service.id, self._facts())

    def _facts(self) -> ServiceFacts:
        try:
            words, client = self._client.check(), self._client
            if not isinstance(client, Adapter):
                return ServiceFacts(words, read_at=time.monotonic())
            targets = dict(client.targets())
            named = targets or {"": ""}
            fields = {key: [Wanted(one.key, one.kind, one.required, tuple(one.choices))
                            for one in client.fields(key)] for key in named}
        except ServiceError as error:
            return ServiceFacts(str(error), True, read_at=time.monotonic())
        return ServiceFacts(words, False, targets, fields, time.monotonic())


class ServiceReader(QObject):
    """Asks services what they are, a few at a time.

    Signals:
        read: A service has answered, or failed to (its id).
    """

    read = pyqtSignal(str)

    def __init__(self, project: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._project = project
        self._facts: dict[Id, ServiceFacts] = {}
        self._asked: dict[Id, Service] = {}
        self._running: list[_Reading] = []

    def facts(self, service: Service | None) -> ServiceFacts | None:
        """Return what a service last said.

        It is asked if it never was, was changed since, or did not answer well a while ago.
        """
        if service is None:
            return None
        known = self._facts.get(service.id)
        again = known is not None and known.fault and (
            time.monotonic() - known.read_at > _AGAIN_S)
        if again or self._asked.get(service.id) != service:
            self.ask(service)
        return self._facts.get(service.id)

    def wanted(self, service: Service | None, target: str) -> Sequence[Wanted] | None:
        """Return the fields of a target; `None` if any name is taken, or they are not known."""
        facts = self.facts(service)
        if facts is None or facts.fault or service is None:
            return None
        if SERVICE_KINDS[service.does].free_fields and not facts.fields.get(target):
            return None
        return facts.fields.get(target)

    def ask(self, service: Service) -> None:
        """Ask a service, now."""
        self._asked[service.id] = service
        adapter = adapter_for(self._project, service) or payment_service_for(
            self._project, service)
        if adapter is None:
            self._facts[service.id] = ServiceFacts(
                tr("not started yet") if service.practice else tr("no address yet"), True)
            return
        if service.id in self._facts:  # Not asked once more while this is on its way.
            self._facts[service.id] = replace(self._facts[service.id], read_at=time.monotonic())
        reading = _Reading(service, adapter)
        reading.said.done.connect(self._take)
        self._running = [*self._running[-20:], reading]  # The signal lives as long as these.
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(reading)

    def _take(self, service_id: Id, facts: ServiceFacts) -> None:
        before = self._facts.get(service_id)
        if facts.fault and before is not None and before.fields:
            # What it had is still the best guess while it is away.
            facts = ServiceFacts(facts.words, True, before.targets, before.fields, facts.read_at)
        self._facts[service_id] = facts
        self.read.emit(service_id)
