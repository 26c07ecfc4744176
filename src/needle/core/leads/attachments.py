"""Files that visitors send along with a form: which are taken, and under which name."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from needle.core.messages.message import Message, say
from needle.core.values.form import FormField

__all__ = ["ENDINGS", "LARGEST_KB", "SentFile", "file_problem", "tidy_name"]

LARGEST_KB = 5_000
# What a system may run when it is opened.
_DANGEROUS = frozenset((
    "apk app bat cgi cmd com cpl dll exe hta htm html jar js jse jsp lnk msi msp php phtml pif "
    + "pl ps1 py rb reg scr sh svg swf vb vbe vbs wsf xhtml").split())


@dataclass(frozen=True, slots=True)
class SentFile:
    """A file as it came, under the name that the visitor's browser gave."""

    name: str
    data: bytes


def _starts(*signs: bytes) -> Callable[[bytes], bool]:
    return lambda data: data.startswith(signs)


def _text(data: bytes) -> bool:
    try:
        return "\0" not in data.decode("utf-8")
    except UnicodeDecodeError:
        return False


# By ending: how the content of such a file can be told, from the formats' own descriptions.
ENDINGS: Mapping[str, Callable[[bytes], bool]] = {
    "pdf": lambda data: b"%PDF-" in data[:1024],
    "png": _starts(b"\x89PNG\r\n\x1a\n"),
    "jpg": _starts(b"\xff\xd8\xff"),
    "jpeg": _starts(b"\xff\xd8\xff"),
    "gif": _starts(b"GIF87a", b"GIF89a"),
    "webp": lambda data: data[:4] == b"RIFF" and data[8:12] == b"WEBP",
    "heic": lambda data: data[4:8] == b"ftyp",
    "docx": _starts(b"PK\x03\x04"),
    "xlsx": _starts(b"PK\x03\x04"),
    "odt": _starts(b"PK\x03\x04"),
    "ods": _starts(b"PK\x03\x04"),
    "txt": _text,
    "csv": _text,
}


def file_problem(field: FormField, file: SentFile) -> Message | None:
    """Return why a file cannot be taken, or `None`."""
    taken = [ending.lower().lstrip(".") for ending in field.choices] or ["pdf", "png", "jpg"]
    name = tidy_name(file.name)
    parts = name.lower().split(".")
    largest = int(field.most or LARGEST_KB)
    if len(file.data) > largest * 1024:
        return say("field-file-large", label=field.label, most=largest, file=name,
                   weight=len(file.data) // 1024)
    if not file.data:
        return say("field-file-empty", file=name)
    ending = parts[-1] if len(parts) > 1 else ""
    if ending not in taken or any(part in _DANGEROUS for part in parts[1:]):
        return say("field-file-kind", label=field.label, endings=", ".join(taken), file=name)
    known = ENDINGS.get(ending)
    if known is None or not known(file.data):
        return say("field-file-other", file=name, ending=ending)
    return None


def tidy_name(name: str) -> str:
    """Return a file name without folders, control characters or turned reading order."""
    last = re.split(r"[/\\]", name)[-1]
    plain = "".join(sign for sign in last if sign.isprintable())
    plain = re.sub(r"[^\w .()-]", "_", plain).strip(" .") or "file"
    return plain if len(plain) <= 100 else plain[:60] + "…" + plain[-30:]
