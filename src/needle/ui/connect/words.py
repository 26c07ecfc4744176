"""What roles are called on screen."""

from needle.core.values.form import Role
from needle.ui.language import tr

__all__ = ["ROLE_WORDS"]

ROLE_WORDS = {
    Role.NAME: "name", Role.GIVEN: tr("given name"), Role.FAMILY: tr("family name"),
    Role.EMAIL: "e-mail", Role.PHONE: "phone", Role.COMPANY: "company", Role.CHOICE: "choice",
    Role.CHOICES: tr("several choices"), Role.NUMBER: "number", Role.DATE: "date",
    Role.LINE: tr("line of text"), Role.LONG: tr("long text"), Role.FILE: "file",
    Role.CONSENT: tr("tick box"), Role.HIDDEN: "hidden"}
