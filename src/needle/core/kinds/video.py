"""A video: one's own file, or one from elsewhere behind a light stand-in."""

import re
from typing import Annotated
from urllib.parse import urlsplit

from markupsafe import Markup

from needle.core.icons.drawing import icon_svg
from needle.core.kinds.kind import Field, Kind
from needle.core.markup.imagery import image
from needle.core.markup.markup import safe_address, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.messages.message import Message, say
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import one_of

__all__ = ["KIND", "Video", "frame_address"]

_FILE = re.compile(r"\.(mp4|webm|ogv|m4v)\Z", re.IGNORECASE)
_FRAME = re.compile(r"""<iframe\b[^>]*?\bsrc\s*=\s*["']?([^"'\s>]+)""", re.IGNORECASE)


class Video(Item, frozen=True, tag="video"):
    """A video.

    Attributes:
        film: One's own file, a medium of the site; it goes before `address`.
        address: Where one from elsewhere plays: an address, or pasted embed code. Nothing is
            loaded from there until a visitor asks for it.
        poster: The picture that stands there until it plays.
        title: What it shows.
        plays: "click", or "loop": silently, at once, over and over (own files only).
    """

    film: Id = ""
    address: str = ""
    poster: Id = ""
    title: str = ""
    plays: Annotated[str, one_of("click", "loop")] = "click"


def frame_address(pasted: str) -> str:
    """Return the address that a pasted address or embed code plays from, or an empty text."""
    found = _FRAME.search(pasted)
    address = (found.group(1).replace("&amp;", "&") if found else pasted).strip()
    if address.startswith("//"):
        address = f"https:{address}"
    return address if re.match(r"https?://[^\s<>\"']+\Z", address) else ""


def _check_address(value: object) -> Message | None:
    if not str(value).strip() or frame_address(str(value)):
        return None
    return say("video-address")


def _new(node_id: Id) -> Video:
    return Video(id=node_id)


def _render(node: Video, context: Surroundings) -> Markup:
    attributes = context.attributes(node, "video")
    film, address = context.medium(node.film), frame_address(node.address)
    if film is None and not address:
        return tag("div", attributes, _empty(node, context) if context.mode == "edit" else "")
    if context.mode == "edit":
        return tag("div", attributes, _stand(node, address, context))
    if film is not None:
        return tag("div", attributes, _player(node, context))
    file = bool(_FILE.search(urlsplit(address).path))
    link = {"class": "video-stand", "href": safe_address(address),
            "data-file" if file else "data-frame": safe_address(address),
            "data-title": node.title or "Video", "target": "_blank", "rel": "noopener"}
    return tag("div", attributes, tag("a", link, _stand(node, address, context)))


def _empty(node: Video, context: Surroundings) -> Markup:
    """Return what the editor shows as long as there is no video: the still, if there is one."""
    note = tag("span", {"class": "video-from"}, "No video chosen yet")
    poster = context.medium(node.poster)
    if poster is None:
        return tag("span", {"class": "nothing"}, "No video chosen yet")
    return Markup("").join((image(poster, context, alt=""),
                            tag("span", {"class": "video-go"}, icon_svg("play")), note))


def _player(node: Video, context: Surroundings) -> Markup:
    film, poster = context.medium(node.film), context.medium(node.poster)
    assert film is not None
    loop = node.plays == "loop"
    still = context.pictures.renditions(poster)[-1].address if poster else None
    return tag("video", {
        "controls": not loop, "autoplay": loop, "muted": loop, "loop": loop, "playsinline": True,
        "preload": "auto" if loop else "none", "poster": still, "width": film.width,
        "height": film.height, "aria-label": node.title or film.name},
        tag("source", {"src": context.pictures.original(film), "type": film.mime}),
        tag("a", {"href": context.pictures.original(film)}, node.title or film.name))


def _stand(node: Video, address: str, context: Surroundings) -> Markup:
    poster = context.medium(node.poster)
    still = image(poster, context, alt="", sizes=context.sizes(node)) if poster else tag(
        "span", {"class": "video-blank"})
    go = tag("span", {"class": "video-go"}, icon_svg("play"))
    host = urlsplit(address).hostname or ""
    words = context.words("video-play-title", title=node.title) if node.title \
        else context.words("video-play")
    note = words if not host or node.film else context.words("video-from", play=words, host=host)
    return Markup("").join((still, go, tag("span", {"class": "video-from"}, note)))


def _summary(node: Video, context: Surroundings) -> str:
    film = context.medium(node.film)
    return node.title or (film.name if film else "") or (
        urlsplit(frame_address(node.address)).hostname or "no video chosen")


KIND = Kind(
    purpose="Pictures",
    about="A video of your own, with a poster; it plays on demand or silently",
    type=Video, label="Video", mark="video", new=_new, render=_render,
    reads=frozenset({Area.MEDIA, Area.LANGUAGE}), summary=_summary,
    traits=frozenset({"box", "item", "movable", "sized"}), needs=frozenset({"icon"}),
    runtime="video",
    fields=(
        Field(name="film", label="Own file", editor="film"),
        Field(name="address", label="Or address", editor="line", check=_check_address),
        Field(name="poster", label="Still", editor="medium"),
        Field(name="title", label="Shows", editor="line"),
        Field(name="plays", label="Plays", editor="choice",
              choices={"click": "On a click", "loop": "At once, silent"})),
    css=(".video{position:relative;display:block;overflow:hidden}"
         ".video video,.video iframe{display:block;width:100%;height:auto;border:0;"
         "background:#000}.video iframe{aspect-ratio:16/9;height:auto}"
         ".video img{display:block;width:100%;height:auto}"
         ".video-stand{display:block;position:relative;color:#fff}"
         ".video-blank{display:block;aspect-ratio:16/9;background:#10161f}"
         ".video-go{position:absolute;inset:0;margin:auto;width:76px;height:76px;"
         "border-radius:50%;display:grid;place-items:center;font-size:30px;color:#fff;"
         "background:#000c;border:2px solid #fff}.video-go .icon{fill:currentColor}"
         ".video-from{position:absolute;left:10px;bottom:10px;padding:3px 10px;"
         "border-radius:4px;background:#000d;color:#fff;font:14px/1.5 var(--f-body)}"
         ".video .nothing{display:grid;place-items:center;min-height:200px;background:#8882;"
         "font:500 14px var(--f-body)}"),
)
