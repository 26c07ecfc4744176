"""What somebody says."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.imagery import image
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html, words_html
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey
from needle.core.values.words import Text, plain, text

__all__ = ["KIND", "Testimonial"]


class Testimonial(Item, frozen=True, tag="testimonial"):
    """A quotation with the name of who said it.

    Attributes:
        about: Who they are, or where they are from.
        medium: A picture of them; empty for none.
        initial: Without a picture, the first letter of the name stands in its place.
    """

    quote: tuple[Text, ...]
    name_said: Text
    about: Text = ()
    medium: Id = ""
    initial: bool = False
    style: StyleKey = "subtitle"


def _new(node_id: Id) -> Testimonial:
    return Testimonial(id=node_id, quote=(text("What they said, in their own words."),),
                       name_said=text("Their name"), about=text("Their town"))


def _texts(node: Testimonial) -> dict[str, TextMode]:
    return {"quote": "lines", "name_said": "one", "about": "one"}


def _render(node: Testimonial, context: Surroundings) -> Markup:
    face = _face(node, context)
    quote = tag("blockquote", context.typed("quote", "lines"),
                lines_html(node.quote, context))
    who = tag("figcaption", {}, face, tag("div", {},
              tag("div", {"class": "said-name"} | context.typed("name_said", "one"),
                  words_html(node.name_said, context)),
              tag("div", {"class": "said-about"} | context.typed("about", "one"),
                  words_html(node.about, context))))
    return tag("figure", context.attributes(node, f"said t-{node.style}"), quote, who)


def _face(node: Testimonial, context: Surroundings) -> Markup:
    medium = context.medium(node.medium)
    if medium is not None:
        return tag("div", {"class": "said-face"}, image(medium, context, alt="", sizes="56px"))
    letter = plain(node.name_said).strip()[:1].upper()
    if not node.initial or not letter:
        return Markup("")
    return tag("div", {"class": "said-face said-letter", "aria-hidden": "true"}, letter)


KIND = Kind(
    purpose="Proof",
    about="What somebody says, with name and face (voice, review, quote)",
    type=Testimonial, label="Testimonial", mark="quote", traits=TYPE_TRAITS, new=_new,
    render=_render,
    reads=frozenset({Area.MEDIA}), texts=_texts,
    cuts=frozenset({("body", 600)}),
    fields=(
        Field(name="medium", label="Picture", editor="medium"),
        Field(name="initial", label="Without one", editor="choice",
              choices={True: "First letter", False: "Nothing"}),
        Field(name="style", label="Style", editor="style")),
    css=(".said{display:grid;gap:12px;margin:0}.said blockquote{margin:0;display:grid;gap:.6em}"
         ".said figcaption{display:flex;gap:12px;align-items:center;letter-spacing:0;"
         "font:400 15px/1.4 var(--f-body)}"
         ".said-name{font-weight:600}.said-about{opacity:.85}"
         ".said-face{width:56px;height:56px;border-radius:50%;overflow:hidden;flex:none}"
         ".said-letter{display:grid;place-items:center;font:600 24px/1 var(--f-heading);"
         "background:color-mix(in srgb,currentColor 14%,transparent)}"
         ".said-face img{display:block;width:100%;height:100%;object-fit:cover}"),
)
