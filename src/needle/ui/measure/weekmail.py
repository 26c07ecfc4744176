"""Handing the report of a week to a mail service."""

import secrets
from email.message import EmailMessage
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, pyqtSignal

from needle.core.site.site import Service
from needle.services.adapter import Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.ui.language import tr

__all__ = ["Mailing"]


class Mailing(QRunnable):
    """Hands a letter to a mail service, in a thread."""

    class Said(QObject):
        """Tells the dialog how it went."""

        told = pyqtSignal(str)

    def __init__(self, project: Path, service: Service, letter: EmailMessage) -> None:
        super().__init__()
        self.said = self.Said()
        self._project, self._service, self._letter = project, service, letter
        self.setAutoDelete(False)

    def run(self) -> None:
        try:
            adapter = adapter_for(self._project, self._service)
            if adapter is None:
                self.said.told.emit(tr("{name} cannot be reached: nobody knows where it is.",
                                       name=self._service.name))
                return
            receipt = adapter.deliver(Parcel(secrets.token_hex(16), letter=self._letter))
        except (ServiceError, OSError) as error:
            self.said.told.emit(tr("The report was not sent. {error}", error=error))
        else:
            self.said.told.emit(tr("{name}: {words}, to {to}.", name=self._service.name,
                                   words=receipt.words, to=self._letter["To"]))
