"""The people behind the offer."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.imagery import image
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html, words_html
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, StyleKey, one_of
from needle.core.values.words import Text, plain, text

__all__ = ["KIND", "Member", "Team"]

_TEXTS: dict[str, TextMode] = {"name": "one", "role": "one", "about": "lines"}


class Member(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One person.

    Attributes:
        role: What they do here.
        about: A few words more, a line each paragraph.
    """

    name: Text
    role: Text
    about: tuple[Text, ...] = ()
    medium: Id = ""


class Team(Item, frozen=True, tag="team"):
    """People side by side; on a phone one below the other.

    Attributes:
        shape: "round" or "square" pictures.
    """

    entries: tuple[Member, ...] = ()
    shape: Annotated[str, one_of("round", "square")] = "round"
    style: StyleKey = "small"


def _entry() -> Member:
    return Member(text("Their name"), text("What they do"), (text("One thing worth knowing."),))


def _new(node_id: Id) -> Team:
    return Team(id=node_id, entries=(_entry(), _entry(), _entry()))


def _texts(node: Team) -> dict[str, TextMode]:
    return {f"entries.{number}.{name}": mode for number in range(len(node.entries))
            for name, mode in _TEXTS.items()}


def _render(node: Team, context: Surroundings) -> Markup:
    return tag("ul", context.attributes(node, f"team team-{node.shape} t-{node.style}"), join(
        _member(member, f"entries.{number}", context)
        for number, member in enumerate(node.entries)))


def _member(member: Member, path: str, context: Surroundings) -> Markup:
    medium = context.medium(member.medium)
    initials = "".join(word[0] for word in plain(member.name).split()[:2]).upper()
    face = image(medium, context, alt="", sizes="160px") if medium else tag(
        "span", {"aria-hidden": "true"}, initials)
    return tag(
        "li", {"class": "member"}, tag("div", {"class": "member-face"}, face),
        tag("p", {"class": "member-name"} | context.typed(f"{path}.name", "one"),
            words_html(member.name, context)),
        tag("p", {"class": "member-role"} | context.typed(f"{path}.role", "one"),
            words_html(member.role, context)),
        tag("div", {"class": "member-about"} | context.typed(f"{path}.about", "lines"),
            lines_html(member.about, context)))


KIND = Kind(
    purpose="Proof",
    about="People with face, name and what they do (about us)",
    type=Team, label="Team", mark="team", new=_new, render=_render,
    reads=frozenset({Area.MEDIA}), texts=_texts,
    traits=TYPE_TRAITS, cuts=frozenset({("body", 600), ("heading", 600)}),
    summary=lambda node, context: f"{len(node.entries)} people",
    fields=(
        Field(name="entries", label="People", editor="entries", new_entry=_entry, parts=(
            Field(name="medium", label="Picture", editor="medium"),)),
        Field(name="shape", label="Pictures", editor="choice",
              choices={"round": "Round", "square": "Square"}),
        Field(name="style", label="Style", editor="style")),
    css=(".team{list-style:none;display:grid;gap:32px 24px;"
         "grid-template-columns:repeat(auto-fit,minmax(min(100%,180px),1fr))}"
         ".member{display:grid;gap:2px;align-content:start}"
         ".member-face{width:112px;aspect-ratio:1;overflow:hidden;border-radius:var(--corner,8px);"
         "margin-bottom:10px;display:grid;place-items:center;color:var(--t-accent);"
         "font:600 34px/1 var(--f-heading);"
         "background:color-mix(in srgb,var(--c-accent) 16%,transparent)}"
         ".team-round .member-face{border-radius:50%}"
         ".member-face img{display:block;width:100%;height:100%;object-fit:cover}"
         ".member-name{font-weight:600;font-size:1.15em}.member-role{opacity:.85}"
         ".member-about{display:grid;gap:.5em;margin-top:6px}"),
)
