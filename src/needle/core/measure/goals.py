"""What counts as a conversion on a site: forms, clicks, and what outside pages call in."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum

from needle.core.edit.outline import node_words
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.menu import Menu, shown_pages
from needle.core.render.callers import calls_reached
from needle.core.render.context import Context
from needle.core.render.reads import actions_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Page, Site
from needle.core.values.actions import CountGoal, Dial, GiveFile, Write
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["Choice", "Goal", "GoalKind", "choices_of", "goals_of", "goals_on"]


class GoalKind(StrEnum):
    """What a visitor does to reach a goal."""

    FORM = "form"
    CLICK = "click"
    PHONE = "phone"
    MAIL = "mail"
    FILE = "file"
    CALL = "call"
    DEPTH = "depth"
    TIME = "time"
    GONE = "gone"


@dataclass(frozen=True, slots=True)
class Goal:
    """Something that counts as a conversion.

    Attributes:
        key: What it is known by in the results: the id of a form or call, else its name.
        pages: Where it can be reached; of an outside call, which pages lead there.
        node: The first item with which it is reached; empty for none.
    """

    kind: GoalKind
    key: str
    name: str
    pages: tuple[Id, ...] = ()
    node: Id = ""


@dataclass(frozen=True, slots=True)
class Choice:
    """Something on a page that can count, or that counts by itself.

    Attributes:
        words: What it says.
        goal: Under which name its click counts; empty if it does not.
        fixed: It counts whatever anybody chooses: a form.
        to: Of a link in a menu or among words: where it leads, as `LinkGoal.to`.
    """

    node: Id
    kind: GoalKind
    words: str
    goal: str = ""
    fixed: bool = False
    to: str = ""

    @property
    def key(self) -> str:
        """By what it is told from the others of its page."""
        return f"{self.node}|{self.to}" if self.to else self.node


def choices_of(context: Context) -> list[Choice]:
    """Return every form, every item with clicks of its own, and every place that links in menus
    and words of a variant lead to, in reading order."""
    forms = {form.id: form.name for form in context.site.forms}
    found = []
    for node in context.variant.nodes():
        if isinstance(node, FormBox) and node.form in forms:
            found.append(Choice(node.id, GoalKind.FORM, forms[node.form], fixed=True))
        elif getattr(node, "actions", None) is not None:
            actions = list(actions_of(node))
            names = [one.name for one in actions if isinstance(one, CountGoal)]
            found.append(Choice(node.id, _kind_of(actions), node_words(node, context),
                                names[0] if names else ""))
        found += _links_of(node, context)
    once = {choice.to: choice for choice in reversed(found) if choice.to}
    return [choice for choice in found if not choice.to or once[choice.to] is choice]


def _links_of(node: Node, context: Context) -> Iterator[Choice]:
    names = {one.to: one.name for one in context.page.links}
    told = [(f"page:{page.id}", page.name) for page in shown_pages(node, context.pages())] \
        if isinstance(node, Menu) else [
            (run.link, run.words.strip()) for run in runs_of(node)
            if run.link and not run.link.startswith("#")]
    for to, words in told:
        kind = next((kind for scheme, kind in (("tel:", GoalKind.PHONE), ("mailto:", GoalKind.MAIL))
                     if to.startswith(scheme)), GoalKind.CLICK)
        yield Choice(node.id, kind, words, names.get(to, ""), to=to)


def goals_of(site: Site, reached: Iterable[str] = ()) -> list[Goal]:
    """Return what counts on a site: forms, clicks, what is seen, outside calls, then the rest.

    Args:
        reached: Names that were reached; those that nothing on the site counts any more are told
            too, since their conversions stay in the figures.
    """
    forms: dict[Id, list[tuple[Id, Id]]] = {form.id: [] for form in site.forms}
    clicks: dict[str, tuple[GoalKind, list[tuple[Id, Id]]]] = {}
    for page in site.pages:
        for node in _nodes(page):
            if isinstance(node, FormBox) and node.form in forms:
                forms[node.form].append((page.id, node.id))
            actions = list(actions_of(node))
            for action in actions:
                if isinstance(action, CountGoal):
                    clicks.setdefault(action.name, (_kind_of(actions), []))[1].append(
                        (page.id, node.id))
    found = [_goal(GoalKind.FORM, form.id, form.name, forms[form.id]) for form in site.forms
             if forms[form.id]]
    for page in site.pages:
        for link in page.links:
            clicks.setdefault(link.name, (GoalKind.CLICK, []))[1].append((page.id, ""))
    found += [_goal(kind, name, name, places) for name, (kind, places) in clicks.items()]
    seen: dict[str, tuple[GoalKind, list[tuple[Id, Id]]]] = {}
    for page in site.pages:
        for reach in page.reaches:
            seen.setdefault(reach.name, (GoalKind(reach.does), []))[1].append((page.id, ""))
    found += [_goal(kind, name, name, places) for name, (kind, places) in seen.items()
              if name not in clicks]
    found += [Goal(GoalKind.CALL, call.id, call.name, tuple(
        page.id for page in site.pages if call in calls_reached(site, _nodes(page))))
        for call in site.calls]
    known = {goal.key for goal in found}
    return found + [Goal(GoalKind.GONE, name, name)
                    for name in dict.fromkeys(reached) if name not in known]


def goals_on(site: Site, page: Page) -> list[tuple[str, str]]:
    """Return what counts on a page: each variant's key with the key of a goal, each once."""
    known, found = {form.id for form in site.forms}, []
    for variant in page.variants:
        keys = []
        for node in variant.nodes():
            if isinstance(node, FormBox) and node.form in known:
                keys.append(node.form)
            keys += [one.name for one in actions_of(node) if isinstance(one, CountGoal)]
        keys += [one.name for one in page.reaches] + [one.name for one in page.links]
        keys += [call.id for call in calls_reached(site, variant.nodes())]
        found += [(variant.key, key) for key in dict.fromkeys(keys)]
    return found


def _goal(kind: GoalKind, key: str, name: str, places: list[tuple[Id, Id]]) -> Goal:
    return Goal(kind, key, name, tuple(dict.fromkeys(page for page, _ in places)), places[0][1])


def _nodes(page: Page) -> list[Node]:
    return [node for variant in page.variants for node in variant.nodes()]


def _kind_of(actions: Iterable[object]) -> GoalKind:
    for action in actions:
        match action:
            case Dial():
                return GoalKind.PHONE
            case Write():
                return GoalKind.MAIL
            case GiveFile():
                return GoalKind.FILE
    return GoalKind.CLICK
