"""The report of a week by mail: the sentences as its words, the page as PDF beside them."""

import secrets
from email.message import EmailMessage
from email.utils import formatdate
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, pyqtSignal

from needle.core.measure.week import Week, chapters_of
from needle.core.site.site import Service
from needle.services.adapter import Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.ui.language import tr

__all__ = ["Mailing", "week_letter"]


def week_letter(week: Week, pdf: bytes, to: str, sender: str) -> EmailMessage:
    """Return the letter."""
    letter = EmailMessage()
    letter["To"], letter["From"] = _one_line(to), _one_line(sender) or "needle@localhost"
    letter["Subject"] = _one_line(f"{week.site}: the week of {week.monday:%d %B %Y}")
    letter["Date"] = formatdate(localtime=True)
    letter["Message-ID"] = f"<{secrets.token_hex(16)}@needle.localhost>"
    letter.set_content("\n\n".join(
        "\n".join((chapter.title, *(f"- {words}" for words in chapter.sentences)))
        for chapter in chapters_of(week)) + "\n")
    letter.add_attachment(pdf, maintype="application", subtype="pdf",
                          filename=f"week-{week.monday:%Y-%m-%d}.pdf")
    return letter


def _one_line(words: str) -> str:
    return " ".join(words.split())


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
