"""Addresses and numbers behind clicks that do not work everywhere."""

from collections.abc import Iterator

from needle.core.render.reads import actions_of
from needle.core.render.texts import runs_of
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.actions import Dial, GoAddress, Write

__all__ = ["RULES"]


def _plain_http(at: ItemAt) -> Iterator[Spot]:
    links = [run.link for run in runs_of(at.node)]
    links += [action.address for action in actions_of(at.node) if isinstance(action, GoAddress)]
    for link in links:
        if link.startswith("http://") and ".localhost" not in link:
            yield Spot(f"A link to an address that is not secured: {link[:60]}")


def _number(at: ItemAt) -> Iterator[Spot]:
    for action in actions_of(at.node):
        if isinstance(action, Dial):
            digits = sum(sign.isdigit() for sign in action.number)
            if digits < 5:
                yield Spot(f"“{action.number[:24]}” is no phone number")
            elif not action.number.strip().startswith("+"):
                yield Spot(f"“{action.number[:24]}” can be called from one country only")


def _mail(at: ItemAt) -> Iterator[Spot]:
    from email_validator import EmailNotValidError, validate_email  # Heavy, needed only here.

    for action in actions_of(at.node):
        if isinstance(action, Write):
            try:
                validate_email(action.address.partition("?")[0], check_deliverability=False,
                               test_environment=True)
            except EmailNotValidError:
                yield Spot(f"“{action.address[:40]}” is no e-mail address")


def _unnamed(at: ItemAt) -> Iterator[Spot]:
    for action in actions_of(at.node):
        if isinstance(action, GoAddress) and not action.address.strip("# "):
            yield Spot("A click should lead to an address, and there is none")


RULES = (
    Rule(id="plain-http", setting="actions",
         weight=3, scope="item", look=_plain_http, source="RFC 9110, 4.2.2",
         reason="Browsers warn of it, and what is sent there can be read on the way."),
    Rule(id="phone-number", setting="actions",
         weight=2, scope="item", look=_number, source="RFC 3966, 5.1.4",
         reason="Who taps it hears that the number does not exist."),
    Rule(id="mail-address", setting="actions",
         weight=1, scope="item", look=_mail, source="RFC 5322",
         reason="Letters to it come back, or go nowhere."),
    Rule(id="no-address", setting="actions",
         weight=1, scope="item", look=_unnamed, source="trade practice",
         reason="Who clicks and sees nothing happen leaves."),
)
