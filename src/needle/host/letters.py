"""The letters that the host writes: notices, what was promised, and the question to confirm."""

from collections.abc import Sequence
from email.message import EmailMessage
from email.utils import formatdate, parseaddr
from pathlib import Path

from needle.core.messages.message import say
from needle.core.render.mail import mail_html
from needle.core.values.form import Confirmation, Letter
from needle.core.values.shop import LeftCart
from needle.publish.release import Live
from needle.store.paths import read_below

__all__ = ["account_letter", "confirmation_letter", "notice_letter", "promised_letter"]


def notice_letter(to: str, key: str, form_name: str, email: str,
                  rows: Sequence[tuple[str, str]], live: Live, sender: str) -> EmailMessage:
    """Return the letter that tells somebody about a lead.

    Args:
        rows: What each line is about, and what it says.
    """
    message = _letter(to, key, f"New lead from {form_name}: {email}".rstrip(": "), sender)
    if email:  # An answer goes to the lead, not to the desk that wrote.
        message["Reply-To"] = _one_line(email)
    message.set_content("\n".join(f"{label}: {words}" for label, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, f"New lead from {form_name}",
                                      rows), subtype="html")
    return message


def promised_letter(letter: Letter, to: str, key: str, live: Live, sender: str, link: str,
                    project: Path, ordered: Sequence[tuple[str, str]] = (), look: str = "",
                    ) -> EmailMessage:
    """Return the letter that brings what a visitor was promised.

    Args:
        ordered: What they ordered, as labels and words.
        look: Where that is looked up; empty for nothing ordered.

    Raises:
        OSError: The file that it brings cannot be read.
    """
    message = _letter(to, key, letter.subject, sender)
    message["Reply-To"] = message["From"]
    message["List-Unsubscribe"] = f"<mailto:{_address(sender)}?subject=unsubscribe>"
    held = live.files.get(letter.file)
    rows = [("", words) for words in letter.words.splitlines() if words.strip()]
    rows += ordered
    if look:
        rows.append((say("order-look").in_language(live.language), look))
    if held and not letter.attach:
        rows.append((say("letter-open-within", days=letter.days).in_language(live.language), link))
    message.set_content("\n\n".join(f"{label}: {words}" if label else words
                                    for label, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, letter.subject, rows,
                                      live.language, {link, look}), subtype="html")
    if held and letter.attach:
        message.add_attachment(read_below(project, held.place), maintype="application",
                               subtype="octet-stream", filename=held.name)
    return message


def confirmation_letter(asked: Confirmation, to: str, key: str, live: Live, sender: str,
                        link: str) -> EmailMessage:
    """Return the letter whose link a visitor follows to confirm."""
    message = _letter(to, key, asked.subject, sender)
    message["Reply-To"] = message["From"]
    rows = [("", words) for words in asked.words.splitlines() if words.strip()]
    rows.append((say("letter-confirm").in_language(live.language), link))
    message.set_content("\n\n".join(words for _, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, asked.subject, rows,
                                      live.language, {link}), subtype="html")
    return message


def account_letter(to: str, key: str, live: Live, sender: str, link: str) -> EmailMessage:
    """Return the letter whose link leads to all orders of a person."""
    subject = f"{say('account').in_language(live.language)}: {live.name}"
    message = _letter(to, key, subject, sender)
    message["Reply-To"] = message["From"]
    rows = [("", say("account-letter").in_language(live.language)),
            (say("account-open").in_language(live.language), link)]
    message.set_content("\n\n".join(words for _, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, subject, rows, live.language,
                                      {link}), subtype="html")
    return message


def left_letter(asked: LeftCart, to: str, key: str, live: Live, sender: str, link: str,
                ) -> EmailMessage:
    """Return the letter to whoever left a cart; its link brings that back."""
    message = _letter(to, key, asked.subject or live.name, sender)
    message["Reply-To"] = message["From"]
    message["List-Unsubscribe"] = f"<mailto:{_address(sender)}?subject=unsubscribe>"
    rows = [("", words) for words in asked.words.splitlines() if words.strip()]
    rows.append((say("cart-show").in_language(live.language), link))
    message.set_content("\n\n".join(words for _, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, asked.subject or live.name, rows,
                                      live.language, {link}), subtype="html")
    return message


def _letter(to: str, key: str, subject: str, sender: str) -> EmailMessage:
    """Return an empty letter; no words of a visitor can begin another header."""
    message = EmailMessage()
    message["From"] = _one_line(sender) or "needle@localhost"
    message["To"] = _one_line(to)
    message["Subject"] = _one_line(subject)[:180]
    message["Date"] = formatdate()
    message["Message-ID"] = f"<{key}@needle.localhost>"
    # No answering machine answers it (RFC 3834).
    message["Auto-Submitted"] = "auto-generated"
    return message


def _address(sender: str) -> str:
    return parseaddr(_one_line(sender))[1] or "needle@localhost"


def _one_line(words: str) -> str:
    return " ".join(words.split())
