"""Taking in a video file, whatever it claims to be."""

import hashlib
import io
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING

from PIL import Image

from needle.core.messages.message import CoreError

if TYPE_CHECKING:
    import av

__all__ = ["HEAVIEST", "Film", "FilmError", "take_in_film"]

HEAVIEST = 200_000_000
_ENDINGS = {"matroska,webm": "webm", "mov,mp4,m4a,3gp,3g2,mj2": "mp4"}
# What browsers play, as the decoders are called.
_PLAYED = frozenset({"h264", "vp8", "vp9", "av1", "libdav1d", "libvpx", "libvpx-vp9"})
_LONGEST_SIDE = 1600
# Late enough to be past a black first frame.
_STILL_FRAME = 12


class FilmError(CoreError):
    """A file that cannot be used as a video; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Film:
    """What is known of a video.

    Attributes:
        ending: Its file ending without the dot.
        width, height: In pixels.
        digest: SHA-256 of the file, in hex.
        weight: In bytes.
        still: A frame from its first seconds, as WebP.
    """

    ending: str
    width: int
    height: int
    seconds: float
    digest: str
    weight: int
    still: bytes


def take_in_film(path: Path) -> Film:
    """Check a video file and take a still from it.

    Raises:
        FilmError: It is no video, damaged, too heavy, or of a sort that browsers do not play.
    """
    import av  # Heavy, and needed only here.

    try:
        weight = path.stat().st_size
        if weight > HEAVIEST:
            raise FilmError("film-heavy", name=path.name, weight=weight // 1000000,
                            most=HEAVIEST // 1000000)
        with av.open(str(path)) as held:
            return _taken(path, weight, held)
    except FilmError:
        raise
    except (OSError, ValueError, av.error.FFmpegError) as error:
        raise FilmError("film-unreadable", name=path.name) from error


def _taken(path: Path, weight: int, held: "av.container.InputContainer") -> Film:
    stream = next(iter(held.streams.video), None)
    ending = _ENDINGS.get(held.format.name, "")
    seconds = (held.duration or 0) / 1_000_000
    if stream is None or seconds <= 0:
        raise FilmError("film-not-moving", name=path.name)
    if not ending or stream.codec_context.name not in _PLAYED:
        raise FilmError("film-not-played", name=path.name, codec=stream.codec_context.name)
    frames = list(islice(held.decode(stream), _STILL_FRAME))
    if not frames:
        raise FilmError("film-cut-short", name=path.name)
    image: Image.Image = frames[-1].to_image()  # type: ignore[no-untyped-call]
    shown = image.copy()
    shown.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))
    out = io.BytesIO()
    shown.save(out, "WEBP", quality=80)
    return Film(ending, image.width, image.height, round(seconds, 2),
                hashlib.sha256(path.read_bytes()).hexdigest(), weight, out.getvalue())
