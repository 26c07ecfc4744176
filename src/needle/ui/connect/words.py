"""What roles are called on screen."""

from needle.core.values.form import Role

__all__ = ["ROLE_WORDS"]

ROLE_WORDS = {
    Role.NAME: "name", Role.GIVEN: "given name", Role.FAMILY: "family name",
    Role.EMAIL: "e-mail", Role.PHONE: "phone", Role.COMPANY: "company", Role.CHOICE: "choice",
    Role.CHOICES: "several choices", Role.NUMBER: "number", Role.DATE: "date",
    Role.LINE: "line of text", Role.LONG: "long text", Role.FILE: "file",
    Role.CONSENT: "tick box", Role.HIDDEN: "hidden"}
