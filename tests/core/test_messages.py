"""Messages: each is in the catalogue with just what the code names, and none is left over."""

import ast
import re
import unittest
from collections.abc import Iterator

from fluent.syntax import FluentParser, visitor
from fluent.syntax import ast as ftl
from gates.imports import SOURCE

from needle.core.messages.catalogue import catalogues
from needle.core.messages.message import CoreError, RefusedError, say
from needle.core.values.styletable import TABLE
from needle.core.values.tracking import PURPOSES

# What a refusal takes besides the values of its message.
_OWN = {"down", "final", "request", "answer", "damaged", "forbidden", "folder",
        "names", "wait_s"}


class _Names(visitor.Visitor):  # type: ignore[misc]
    def __init__(self) -> None:
        self.found: set[str] = set()

    def visit_VariableReference(self, node: ftl.VariableReference) -> None:
        self.found.add(node.id.name)


def names_in(entry: ftl.Message) -> set[str]:
    """Return what a message names."""
    names = _Names()
    names.visit(entry)
    return names.found


def catalogue() -> dict[str, set[str]]:
    """Return what each message names, of those to the marketer and of those to visitors."""
    found: dict[str, set[str]] = {}
    for name in ("needle.en", "visitors.en"):
        for entry in FluentParser().parse(catalogues()[name]).body:
            if isinstance(entry, ftl.Junk):
                raise AssertionError(f"no message: {entry.content}")
            if isinstance(entry, ftl.Message):
                if entry.id.name in found:
                    raise AssertionError(f"{entry.id.name} stands twice")
                found[entry.id.name] = names_in(entry)
    return found


def said(tree: ast.Module) -> Iterator[tuple[str, set[str], int]]:
    """Yield each message that a module says: its id, what it gives, and the line."""
    for call in ast.walk(tree):
        if not isinstance(call, ast.Call) or not call.args:
            continue
        name = getattr(call.func, "attr", getattr(call.func, "id", ""))
        first = call.args[0]
        if (name in ("say", "said", "words", "_fault") or name.endswith("Error")) and isinstance(
                first, ast.Constant | ast.IfExp):
            picked = [first] if isinstance(first, ast.Constant) else [first.body, first.orelse]
            given = {keyword.arg or "**" for keyword in call.keywords}
            given |= {"service"} if name == "_fault" else set()
            yield from ((str(one.value), given, call.lineno) for one in picked
                        if isinstance(one, ast.Constant) and _ID.fullmatch(str(one.value)))


_ID = re.compile(r"[a-z]+(-[a-z]+)+")


class MessageTest(unittest.TestCase):
    def test_what_the_code_says_stands_in_the_catalogue_and_the_other_way_round(self) -> None:
        known, used = catalogue(), set()
        for path in sorted(SOURCE.rglob("*.py")):
            words = path.read_text("utf-8")
            for message, given, line in said(ast.parse(words)):
                with self.subTest(message=message, place=f"{path.name}:{line}"):
                    self.assertIn(message, known)
                    self.assertLessEqual(known[message], given)
                    self.assertLessEqual(given - known[message], _OWN)
            used |= {name for name in known if f'"{name}"' in words}
        formed = {f"strict-{rule}" for rule in _strict_names()}
        formed |= {f"countdown-{unit}" for unit in ("days", "hours", "minutes", "seconds")}
        formed |= {f"consent-{purpose}" for purpose in PURPOSES}
        formed |= {"here-needed", "here-email", "form-next", "form-proof", "form-unreached"}
        self.assertEqual(set(known) - used - formed, set())

    def test_each_strict_type_says_what_fits(self) -> None:
        for name in _strict_names():
            with self.subTest(name=name):
                self.assertIn(":", str(say(f"strict-{name}", roles="ink")))

    def test_a_message_words_itself_and_what_it_carries(self) -> None:
        inner = CoreError("page-gone")
        outer = RefusedError("publish-nothing-sent", why=inner)
        self.assertEqual(str(outer), "Nothing was sent. This page is no longer there.")
        self.assertEqual(outer.message.id, "publish-nothing-sent")
        self.assertEqual(str(say("leads-too-many", most=20000)),
                         "The file holds more than 20,000 lines. Cut it in parts.")

    def test_what_came_from_outside_is_text_and_no_pattern(self) -> None:
        strange = "{ $folder } -> { \"x\" }\n = \u2068"
        self.assertIn(strange, str(say("page-name-taken", name=strange)))

    def test_a_refusal_of_the_style_table_is_a_value(self) -> None:
        fault = TABLE["size"].fault(900)
        assert fault is not None
        self.assertEqual((fault.id, fault.values["low"]), ("look-range", "8"))


def _strict_names() -> set[str]:
    return {name for path in SOURCE.rglob("*.py")
            for name in re.findall(r'strict_meta\(\s*"([a-z-]+)"', path.read_text("utf-8"))}
