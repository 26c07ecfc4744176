"""Practice visitors in a real browser engine: pages run, keys are typed, and pages tell it all."""

import json
import random
from collections.abc import Iterator, Sequence
from functools import partial

from PyQt6.QtCore import QEvent, QObject, QUrl, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWebEngineCore import QWebEngineScript
from PyQt6.QtWidgets import QApplication

from needle.core.measure.events import EventKind
from needle.crowd.ledger import Ledger
from needle.crowd.people import AGENTS, Crowd
from needle.ui.connect.visiting import HiddenVisitor
from needle.ui.timers import once

__all__ = ["BrowserWalk"]

_WORLD = QWebEngineScript.ScriptWorldId.MainWorld.value
_SIZES = {"phone": (390, 760), "tablet": (820, 1100), "desktop": (1280, 800)}
_LONGEST_MS = 60_000
_LAST = "robots.txt"
# Notes what pages tell, over pages of one visit; a lead, once it was answered.
_NOTES = """(() => {
  const real = window.fetch;
  const note = (row) => {
    const held = JSON.parse(sessionStorage.getItem('practice') || '[]');
    sessionStorage.setItem('practice', JSON.stringify([...held, row]));
  };
  window.fetch = async (where, how) => {
    const path = String(where);
    const lead = path.includes('_needle/lead/');
    const { page, variant } = document.body.dataset;
    if (path.includes('_needle/') && !lead)
      note([path, typeof how?.body === 'string' ? how.body : '', 0, page, variant]);
    const answer = await real(where, how);
    if (lead) note([path, '', answer.status, page, variant]);
    return answer;
  };
})()"""
_OPEN = """(() => {
  const form = document.querySelector('form[data-form]');
  const popup = form?.closest('dialog');
  if (popup && !popup.open)
    [...document.querySelectorAll('[data-do]')].find(
      (e) => e.dataset.do.includes(popup.id))?.click();
  return Boolean(form) && (!popup || popup.open);
})()"""
# The next field that nothing stands in yet: focused, or answered at once if it is chosen from.
_NEXT = """(() => {
  const form = document.querySelector('form[data-form]');
  for (const one of form?.querySelectorAll('input,select,textarea') ?? []) {
    if (!one.name || one.type === 'hidden' || one.closest('.form-trap') || one.closest('[inert]')
      || one.disabled || one.dataset.practised) continue;
    one.dataset.practised = '1';
    one.focus();
    if (!document.hasFocus()) {  // A page that nobody looks at is told of no focus.
      window.practised?.dispatchEvent(new FocusEvent('focusout', { bubbles: true }));
      one.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
      window.practised = one;
    }
    if (one.tagName === 'SELECT') { one.selectedIndex = one.options.length - 1;
      one.dispatchEvent(new Event('change', { bubbles: true })); return ''; }
    if (['checkbox', 'radio'].includes(one.type)) { if (!one.checked) one.click(); return ''; }
    if (['file', 'submit', 'button'].includes(one.type)) return '';
    return { email: 'mail', tel: 'phone', number: 'number', date: 'date' }[one.type] ?? 'words';
  }
  return null;
})()"""
_SEND = """(() => { const form = document.querySelector('form[data-form]');
  form?.querySelector('[type=submit]')?.click(); return Boolean(form); })()"""
_TYPED = {"mail": "visitor{n}@practice.example", "phone": "+44 20 7946 0018", "number": "2",
          "date": "03142027", "words": "Visitor {n}"}


class BrowserWalk(QObject):
    """Sends a few people one after another.

    Signals:
        done: One more has been there.
        ended: All have, or they were stopped.
    """

    done = pyqtSignal()
    ended = pyqtSignal()

    def __init__(self, base: str, slugs: Sequence[str], crowd: Crowd, seal: str, ledger: Ledger,
                 numbers: Sequence[int], parent: QObject) -> None:
        """Prepare to send.

        Args:
            base: The host, "http://127.0.0.1:8420".
            slugs: The pages that they come to.
            numbers: Who they are; nobody else of the crowd has these.
        """
        super().__init__(parent)
        self._base, self._slugs, self._crowd, self._seal = base, slugs, crowd, seal
        self._ledger, self._waiting = ledger, list(numbers)
        self._draw = random.Random(crowd.seed)
        self._visitor: HiddenVisitor | None = None
        self._steps: Iterator[int] = iter(())
        self._person = 0
        self._told: object = None
        self._waits_for_page = True
        self._late, self._clock, self._rest = (once(self, wait) for wait in (_LONGEST_MS, 0, 0))
        self._late.timeout.connect(self._too_late)
        self._clock.timeout.connect(self._go_on)
        self._rest.timeout.connect(self._next_person)

    def begin(self) -> None:
        """Send the first one."""
        self._next_person()

    def stop(self) -> None:
        """Let the one who is on their way come to their end, and send no more."""
        self._waiting.clear()

    def end(self) -> None:
        """Let go of whoever is on their way."""
        self._waiting.clear()
        self._steps = iter(())
        for timer in (self._late, self._clock, self._rest):
            timer.stop()
        if self._visitor is not None:
            self._visitor.end()
            self._visitor = None

    def _next_person(self) -> None:
        if not self._waiting:
            self.ended.emit()
            return
        self._person = self._waiting.pop(0)
        device = self._draw.choice(list(_SIZES))
        self._visitor = HiddenVisitor(self._base, headers={
            "X-Needle-Practice": self._seal,
            "X-Needle-Who": f"{self._crowd.seed}-{self._person}"})
        profile = self._visitor.page.profile()
        assert profile is not None
        profile.setHttpUserAgent(AGENTS[device])
        profile.setHttpAcceptLanguage("en-GB,en;q=0.8")
        notes = QWebEngineScript()
        notes.setSourceCode(_NOTES)
        notes.setInjectionPoint(QWebEngineScript.InjectionPoint.DocumentCreation)
        notes.setWorldId(_WORLD)
        self._visitor.page.scripts().insert(notes)
        self._visitor.view.resize(*_SIZES[device])
        self._late.start()
        self._steps = self._walk(self._visitor)
        self._visitor.page.loadFinished.connect(lambda _: self._go_on_loaded())
        self._go_on()
        self._visitor.open(self._draw.choice(self._slugs) + "?utm_source=practice")

    # The walk, as steps with pauses (in ms) between them; 0 waits until a page is there.

    def _walk(self, visitor: HiddenVisitor) -> Iterator[int]:
        yield 0
        yield self._pause(900, 2500)
        rate = self._crowd.rate_of("A")
        sends = self._draw.random() < max(rate, 0.5)
        if sends or self._draw.random() < self._crowd.begins:
            yield from self._fill_in(visitor, sends)
        visitor.page.load(QUrl(f"{self._base}/{_LAST}"))
        yield 0
        yield 400
        yield self._ask(visitor, "sessionStorage.getItem('practice') || '[]'")
        self._note(self._told)

    def _fill_in(self, visitor: HiddenVisitor, sends: bool) -> Iterator[int]:
        yield self._ask(visitor, _OPEN)
        yield self._pause(300, 900)
        yield self._ask(visitor, _OPEN)
        if self._told is not True:
            return
        for _ in range(24 if sends else 1):
            yield self._ask(visitor, _NEXT)
            if self._told is None:
                if not sends:
                    return
                yield self._pause(1600, 2400)
                yield self._ask(visitor, _SEND)
                yield 900
                yield self._ask(visitor, _NEXT)
                if self._told is None:  # Nothing more is asked for: it is on its way.
                    yield 1500
                    return
            if isinstance(self._told, str) and self._told:
                self._type(visitor, _TYPED[self._told].format(n=self._person))
            yield self._pause(250, 700)

    def _pause(self, least: int, most: int) -> int:
        return self._draw.randrange(least, most)

    def _ask(self, visitor: HiddenVisitor, script: str) -> int:
        """Run a script; the next step comes once it has answered."""
        self._told = self

        def take(told: object) -> None:
            self._told = told
            self._go_on()

        visitor.page.runJavaScript(script, _WORLD, take)
        return -1

    @staticmethod
    def _type(visitor: HiddenVisitor, words: str) -> None:
        keys = visitor.view.focusProxy()
        for sign in words:
            for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
                QApplication.sendEvent(keys, QKeyEvent(
                    kind, ord(sign.upper()), QApplication.keyboardModifiers(), sign))

    def _go_on_loaded(self) -> None:
        if self._waits_for_page:
            self._waits_for_page = False
            self._go_on()

    def _go_on(self) -> None:
        if self._visitor is None:
            return
        pause = next(self._steps, None)
        if pause is None:
            self._leave()
        elif pause == 0:
            self._waits_for_page = True
        elif pause > 0:
            self._clock.start(pause)

    def _too_late(self) -> None:
        self._ledger.failed["a page that did not come in a minute"] += 1
        self._leave()

    def _leave(self) -> None:
        self._late.stop()
        self._clock.stop()
        self._steps = iter(())
        self._waits_for_page = True
        if self._visitor is not None:
            self._visitor.end()
            self._visitor = None
        self.done.emit()
        self._rest.start()

    # What pages told

    def _note(self, told: object) -> None:
        for path, body, status, page, variant in json.loads(str(told)):
            note = partial(self._note_one, page, variant)
            if path.endswith("_needle/visit"):
                note(EventKind.VISIT)
            elif path.endswith("_needle/goal"):
                note(EventKind.GOAL, json.loads(body)["goal"])
            elif path.endswith("_needle/events"):
                for kind, what, *_ in json.loads(body)["told"]:
                    note(EventKind(kind), what)
            elif "_needle/lead/" in path and status == 200:
                note(EventKind.LEAD, path.rpartition("/")[2])

    def _note_one(self, page: str, variant: str, kind: EventKind, what: str = "") -> None:
        self._ledger.note(self._person, kind, page, variant, what)
