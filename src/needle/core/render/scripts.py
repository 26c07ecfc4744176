"""The script that published pages load: made of parts, without what only its readers need."""

import re
from functools import cache
from importlib.resources import files

import rjsmin

__all__ = ["classes_given_by_scripts", "runtime_script"]

_GIVEN = re.compile(r'(?:classList\.add\(|className = )"([\w-]+)"')


@cache
def runtime_script(parts: tuple[str, ...]) -> str:
    """Return the source of these runtime parts, without comments and needless space."""
    return str(rjsmin.jsmin("".join(map(_source, parts))))


@cache
def classes_given_by_scripts() -> frozenset[str]:
    """Return the classes that any runtime part gives to something on a page."""
    folder = files(__package__) / "runtime"
    return frozenset(name for part in folder.iterdir() if part.name.endswith(".js")
                     for name in _GIVEN.findall(part.read_text("utf-8")))


def _source(part: str) -> str:
    return (files(__package__) / "runtime" / f"{part}.js").read_text("utf-8")
