"""Pictures inside files: checked before they are kept, and named by their content."""

from __future__ import annotations

import base64
import logging
import warnings
from hashlib import sha256
from io import BytesIO
from math import cos, radians, sin
from typing import NamedTuple
from urllib.parse import unquote

from PIL import ExifTags, ImageOps
from PIL import Image as Pillow

from ..report.blocks import Image, size_within_bounds
from .imported import FileRefused

log = logging.getLogger(__name__)

MOST_PIXELS = 60_000_000
_KEPT = {"PNG": "png", "JPEG": "jpg", "MPO": "jpg", "GIF": "gif", "WEBP": "webp"}
_READ = ("PNG", "JPEG", "GIF", "WEBP", "BMP", "TIFF")
"""The formats that are opened at all. Pillow knows others that are programs, and has them run."""


class NotAPicture(ValueError):
    """The data cannot be shown as a picture. The message is a sentence for whoever put it in; ``kind`` says it of a file (``noted.py``)."""

    def __init__(self, message: str, kind: str) -> None:
        super().__init__(message, kind)
        self.message, self.kind = message, kind


LONGEST_SIDE = 2400
"""Pixels of the longer side of a picture that is put in by hand: eight inches at 300 to the inch, as wide as paper prints."""


class Checked(NamedTuple):
    """A picture that can be shown: its source name, the bytes to keep, its width and height in pixels, and whether it was
    larger."""

    source: str
    data: bytes
    width: int
    height: int
    made_smaller: bool = False


class Drawn(NamedTuple):
    """How a picture is drawn, where that is not as it is."""

    cut: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    """How much of its width and height is cut off at the left, top, right and bottom, from 0 to 1."""
    turned: float = 0.0
    """Degrees by which it is turned, clockwise."""
    mirrored: bool = False
    upside_down: bool = False

    def size(self, width: float, height: float) -> tuple[float, float]:
        """How much room it takes when it is turned."""
        angle = radians(self.turned)
        return abs(width * cos(angle)) + abs(height * sin(angle)), abs(width * sin(angle)) + abs(height * cos(angle))


AS_IT_IS = Drawn()


def check(data: bytes, longest_side: int | None = None, drawn: Drawn = AS_IT_IS) -> Checked:
    """Looks at a picture. One with a longer side than ``longest_side`` pixels is made smaller, unless it moves.

    Formats that browsers and PDF do not share are converted to PNG, and a picture from a camera that was held upright is
    turned. Raises NotAPicture for other formats, and for pictures that claim a size which their data does not have, or more
    than 60 million pixels.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Pillow.open(BytesIO(data), formats=_READ)
    except MemoryError:
        raise  # it is not the picture's fault
    except Pillow.DecompressionBombError:
        raise _too_large() from None
    except Exception as error:  # each of Pillow's formats raises its own
        log.info("What was given as a picture could not be opened: %r", error)
        raise NotAPicture(
            "This is not a picture that can be shown; choose a PNG, JPEG, GIF, WebP, TIFF or BMP file.",
            "picture-unknown",
        ) from None
    if picture.width * picture.height > MOST_PIXELS:
        raise _too_large()
    is_too_long = longest_side is not None and max(picture.size) > longest_side and not _moves(picture)
    try:
        if is_too_long and longest_side is not None:
            picture.draft("RGB", (longest_side, longest_side))  # a JPEG is read no larger than it has to be
        picture.load()
    except MemoryError:
        raise
    except Exception as error:
        log.info("A picture of format %s could not be read: %r", picture.format, error)
        raise NotAPicture(
            "The picture is damaged: its data does not have the size it claims; save it again in the program it is from.",
            "picture-damaged",
        ) from None
    if is_too_long and longest_side is not None:
        return _smaller(picture, longest_side)
    if drawn != AS_IT_IS:
        return _drawn(picture, drawn)
    width, height = picture.size
    if picture.format not in _KEPT:
        data, ending = _saved(picture.convert("RGBA"), "PNG"), "png"
    else:
        ending = _KEPT[picture.format]
        if (upright := _upright(picture)) is not picture:
            # Turned for good: browsers heed what the camera noted of its position, PDF does not.
            data, width, height = _saved(upright, "JPEG" if ending == "jpg" else picture.format), *upright.size
    return Checked(_source(data, ending), data, width, height)


def _drawn(picture: Pillow.Image, drawn: Drawn) -> Checked:
    """A picture as it is drawn, first cut, then mirrored, then turned; what comes into view by turning is clear."""
    shown = _upright(picture)
    left, top, right, bottom = drawn.cut
    width, height = shown.size
    box = [round(width * left), round(height * top), round(width * (1 - right)), round(height * (1 - bottom))]
    if box[0] < box[2] and box[1] < box[3]:
        shown = shown.crop((box[0], box[1], box[2], box[3]))
    if drawn.mirrored:
        shown = ImageOps.mirror(shown)
    if drawn.upside_down:
        shown = ImageOps.flip(shown)
    if drawn.turned:
        straight = drawn.turned % 90 == 0
        shown = shown if straight else shown.convert("RGBA")
        shown = shown.rotate(
            -drawn.turned, expand=True, resample=Pillow.Resampling.NEAREST if straight else Pillow.Resampling.BICUBIC
        )
    if picture.format in ("JPEG", "MPO") and shown.mode in ("RGB", "L"):
        data, ending = _saved(shown, "JPEG"), "jpg"
    else:
        data, ending = _saved(shown if shown.mode in ("RGB", "RGBA", "L", "P") else shown.convert("RGBA"), "PNG"), "png"
    return Checked(_source(data, ending), data, *shown.size)


def _source(data: bytes, ending: str) -> str:
    return f"{sha256(data).hexdigest()[:32]}.{ending}"


def _moves(picture: Pillow.Image) -> bool:
    return bool(getattr(picture, "is_animated", False))


def _smaller(picture: Pillow.Image, longest_side: int) -> Checked:
    """A picture whose longer side is as long as it may be. Photographs become JPEG, whatever they were."""
    upright = _upright(picture)
    upright.thumbnail((longest_side, longest_side), reducing_gap=3.0)
    is_photograph = picture.format in ("JPEG", "MPO") or (_is_opaque(upright) and _has_many_colours(upright))
    if is_photograph:
        data, ending = _saved(upright.convert("RGB"), "JPEG"), "jpg"
    else:
        data, ending = _saved(upright, "PNG"), "png"
    return Checked(_source(data, ending), data, *upright.size, made_smaller=True)


def _is_opaque(picture: Pillow.Image) -> bool:
    if "A" not in picture.mode and "transparency" not in picture.info:
        return True
    least, _ = picture.convert("RGBA").getchannel("A").getextrema()
    return bool(least == 255)


def _has_many_colours(picture: Pillow.Image) -> bool:
    """Whether it is a photograph rather than a drawing, as far as a few of its points tell."""
    few = picture.convert("RGB").resize((200, 200), Pillow.Resampling.NEAREST)
    return few.getcolors(maxcolors=8000) is None


WIDEST = 420.0
"""Width in points at which pictures without a size of their own are placed, at the most."""


def size_of(width: int, height: int) -> tuple[float, float]:
    """Width and height in points at which a picture of so many pixels is placed: 96 to the inch, as in CSS, or smaller."""
    scale = min(0.75, WIDEST / width)
    return size_within_bounds(width * scale, height * scale)


def placed(id: str, source: str, width: int, height: int, alt: str, size: tuple[float, float] | None = None) -> Image:
    """The block of a picture of so many pixels; ``size``: in points, where it has one of its own."""
    return Image(id, source, *(size_within_bounds(*size) if size else size_of(width, height)), alt[:500])


def data_address(address: str) -> bytes | None:
    """The file that an address of the scheme ``data:`` holds (RFC 2397), if it is a picture.

    Raises FileRefused for one that is cut off.
    """
    head, comma, body = address.partition(",")
    if not comma or not head.startswith("data:image/") or not head.endswith(";base64"):
        return None
    try:
        return base64.b64decode(unquote(body), validate=True)
    except ValueError:  # with characters beyond ASCII, or too few
        raise FileRefused("A picture in the text is cut off; save the file again and bring it in once more.") from None


def _upright(picture: Pillow.Image) -> Pillow.Image:
    """The picture as its camera was held; as it is where what the camera noted cannot be read."""
    try:
        if picture.getexif().get(ExifTags.Base.Orientation, 1) == 1:
            return picture
        return ImageOps.exif_transpose(picture)
    except Exception as error:  # whatever stands there: it is about the camera, and no part of the picture
        log.info("What a camera noted could not be read: %r", error)
        return picture


def _saved(picture: Pillow.Image, format: str) -> bytes:
    saved = BytesIO()
    picture.save(saved, format, quality=92)
    return saved.getvalue()


def _too_large() -> NotAPicture:
    return NotAPicture(
        "The picture has more than 60 million pixels; make it smaller in the program it is from and try again.",
        "picture-large",
    )
