"""Pictures inside files: checked before they are kept, and named by their content."""

from __future__ import annotations

import logging
import warnings
from hashlib import sha256
from io import BytesIO

from PIL import ExifTags, ImageOps
from PIL import Image as Pillow

log = logging.getLogger(__name__)

MOST_PIXELS = 60_000_000
_KEPT = {"PNG": "png", "JPEG": "jpg", "MPO": "jpg", "GIF": "gif", "WEBP": "webp"}
_READ = ("PNG", "JPEG", "GIF", "WEBP", "BMP", "TIFF")
"""The formats that are opened at all. Pillow knows others that are programs, and has them run."""


class NotAPicture(ValueError):
    """The data cannot be shown as a picture. The message is a sentence for whoever put it in; ``note`` says it of a file."""

    def __init__(self, message: str, note: str) -> None:
        super().__init__(message, note)
        self.message, self.note = message, note


Checked = tuple[str, bytes, int, int]
"""See ``check``."""


def check(data: bytes) -> Checked:
    """The picture's source name, the bytes to keep, and its width and height in pixels.

    Formats that browsers and PDF do not share are converted to PNG, and a picture from a camera that was held upright is
    turned. Raises NotAPicture for other formats, and for pictures that claim a size which their data does not have, or more
    than 60 million pixels.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Pillow.open(BytesIO(data), formats=_READ)
    except Pillow.DecompressionBombError:
        raise _too_large() from None
    except Exception as error:  # each of Pillow's formats raises its own
        log.info("What was given as a picture could not be opened: %r", error)
        raise NotAPicture(
            "This is not a picture that can be shown; choose a PNG, JPEG, GIF, WebP, TIFF or BMP file.",
            "Picture in an unknown format",
        ) from None
    if picture.width * picture.height > MOST_PIXELS:
        raise _too_large()
    try:
        picture.load()
    except Exception as error:
        log.info("A picture of format %s could not be read: %r", picture.format, error)
        raise NotAPicture(
            "The picture is damaged: its data does not have the size it claims; save it again in the program it is from.",
            "Picture that is damaged",
        ) from None
    width, height = picture.size
    if picture.format not in _KEPT:
        data, ending = _saved(picture.convert("RGBA"), "PNG"), "png"
    else:
        ending = _KEPT[picture.format]
        if (upright := _upright(picture)) is not picture:
            # Turned for good: browsers heed what the camera noted of its position, PDF does not.
            data, width, height = _saved(upright, "JPEG" if ending == "jpg" else picture.format), *upright.size
    return f"{sha256(data).hexdigest()[:32]}.{ending}", data, width, height


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
        "Picture of more than 60 million pixels",
    )
