"""Pictures inside files: checked before they are kept, and named by their content."""

from __future__ import annotations

import logging
import warnings
from hashlib import sha256
from io import BytesIO

from PIL import ExifTags, ImageOps, UnidentifiedImageError
from PIL import Image as Pillow

from .imported import FileRefused

log = logging.getLogger(__name__)

MOST_PIXELS = 60_000_000
_KEPT = {"PNG": "png", "JPEG": "jpg", "GIF": "gif", "WEBP": "webp"}


class NotAPicture(ValueError):
    """The data is in no picture format that can be shown."""


def check(data: bytes) -> tuple[str, bytes, int, int]:
    """The picture's source name, the bytes to keep, and its width and height in pixels.

    Formats that browsers and PDF do not share are converted to PNG, and a picture from a camera that was held upright is
    turned. Raises NotAPicture for unknown formats, and
    FileRefused if the picture claims a size that its data does not have, or more than 60 million pixels.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Pillow.open(BytesIO(data))
    except (UnidentifiedImageError, Pillow.DecompressionBombError, OSError, ValueError) as error:
        if isinstance(error, Pillow.DecompressionBombError):
            raise _too_large() from None
        raise NotAPicture(str(error)) from None
    if picture.width * picture.height > MOST_PIXELS:
        raise _too_large()
    if picture.format in ("WMF", "EMF"):
        raise NotAPicture("drawing commands, not pixels")
    try:
        picture.load()
    except Exception as error:  # each of Pillow's formats raises its own
        log.info("A picture of format %s could not be read: %r", picture.format, error)
        raise FileRefused(
            "A picture in the file is damaged: its data does not have the size it claims; replace the picture and try again."
        ) from None
    width, height = picture.size
    if picture.format not in _KEPT:
        data, ending = _saved(picture.convert("RGBA"), "PNG"), "png"
    else:
        ending = _KEPT[picture.format]
        if picture.getexif().get(ExifTags.Base.Orientation, 1) != 1:
            # Turned for good: browsers heed what the camera noted of its position, PDF does not.
            upright = ImageOps.exif_transpose(picture)
            data, width, height = _saved(upright, picture.format), *upright.size
    return f"{sha256(data).hexdigest()[:32]}.{ending}", data, width, height


def _saved(picture: Pillow.Image, format: str) -> bytes:
    saved = BytesIO()
    picture.save(saved, format, quality=92)
    return saved.getvalue()


def _too_large() -> FileRefused:
    return FileRefused(
        "A picture in the file claims more than 60 million pixels; make it smaller in the program it is from and try again."
    )
