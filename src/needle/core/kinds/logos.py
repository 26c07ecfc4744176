"""A row of logos: who else trusts this."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.imagery import image
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, StyleKey, whole
from needle.core.values.words import Text, plain, text

__all__ = ["KIND", "Logo", "Logos"]


class Logo(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One logo.

    Attributes:
        name: Whose it is; it is shown as words while there is no picture.
    """

    name: Text
    medium: Id = ""


class Logos(Item, frozen=True, tag="logos"):
    """Logos side by side, all of one height.

    Attributes:
        height: Of the pictures, in CSS pixels.
        quiet: Shown in grey.
    """

    entries: tuple[Logo, ...] = ()
    height: Annotated[int, whole(12, 200)] = 36
    quiet: bool = True
    style: StyleKey = "minor"


def _entry() -> Logo:
    return Logo(text("Their name"))


def _new(node_id: Id) -> Logos:
    return Logos(id=node_id, entries=tuple(
        Logo(text(name)) for name in ("A newspaper", "A radio station", "A customer")))


def _texts(node: Logos) -> dict[str, TextMode]:
    return {f"entries.{number}.name": "one" for number in range(len(node.entries))}


def _render(node: Logos, context: Surroundings) -> Markup:
    classes = f"logos t-{node.style}{' logos-quiet' if node.quiet else ''}"
    attributes = context.attributes(node, classes) | {"style": f"--logo:{node.height}px"}
    return tag("ul", attributes, join(_logo(logo, number, context)
                                      for number, logo in enumerate(node.entries)))


def _logo(logo: Logo, number: int, context: Surroundings) -> Markup:
    medium = context.medium(logo.medium)
    if medium is not None:
        return tag("li", {}, image(medium, context, alt=plain(logo.name), sizes="200px"))
    return tag("li", context.typed(f"entries.{number}.name", "one"),
               words_html(logo.name, context))


KIND = Kind(
    purpose="Proof",
    about="Marks of customers, media or partners in a row",
    type=Logos, label="Logos", mark="logos", new=_new, render=_render,
    reads=frozenset({Area.MEDIA}), texts=_texts,
    traits=TYPE_TRAITS,
    summary=lambda node, context: f"{len(node.entries)} logos",
    fields=(
        Field(name="entries", label="Logos", editor="entries", new_entry=_entry, parts=(
            Field(name="medium", label="Picture", editor="medium"),)),
        Field(name="height", label="Height px", editor="number"),
        Field(name="quiet", label="Shown", editor="choice",
              choices={True: "In grey", False: "In colour"}),
        Field(name="style", label="Style", editor="style")),
    css=(".logos{list-style:none;display:flex;flex-wrap:wrap;gap:18px 44px;align-items:center;"
         "justify-content:center}.logos img{display:block;width:auto;height:var(--logo)}"
         ".logos-quiet img{filter:grayscale(1);opacity:.8}"),
)
