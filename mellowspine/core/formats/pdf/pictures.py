"""Pictures in a PDF (ISO 32000-1, 8.9.5): JPEG as it is, all others as their points, with a mask where one sees through."""

from __future__ import annotations

import zlib
from io import BytesIO

from pikepdf import Name, Object, Pdf, Stream
from PIL import Image

_SPACES = {"L": Name.DeviceGray, "RGB": Name.DeviceRGB, "CMYK": Name.DeviceCMYK}


def put_picture(file: Pdf, data: bytes) -> Object:
    """Raises OSError for what is no picture."""
    with Image.open(BytesIO(data)) as opened:
        if opened.format == "JPEG" and opened.mode in _SPACES:
            made = _image(file, opened, data, Name.DCTDecode)
            if opened.mode == "CMYK" and "adobe" in opened.info:
                made.Decode = [1, 0] * 4  # written the other way round by whatever says so (common practice, no source)
            return file.make_indirect(made)
        sees_through = "transparency" in opened.info or opened.mode in ("RGBA", "LA", "PA")
        if opened.mode.startswith("I"):  # greys in sixteen bits, which the library would cut off at 255
            return file.make_indirect(_points(file, opened.convert("I").point(lambda grey: grey / 256).convert("L")))
        image = opened.convert("RGBA" if sees_through else "L" if opened.mode in ("1", "L") else "RGB")
    if not sees_through:
        return file.make_indirect(_points(file, image))
    made = _points(file, image.convert("RGB"))
    made.SMask = file.make_indirect(_points(file, image.getchannel("A")))
    return file.make_indirect(made)


def _points(file: Pdf, image: Image.Image) -> Stream:
    return _image(file, image, zlib.compress(image.tobytes()), Name.FlateDecode)


def _image(file: Pdf, image: Image.Image, data: bytes, packed: Name) -> Stream:
    return Stream(
        file,
        data,
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=image.width,
        Height=image.height,
        ColorSpace=_SPACES[image.mode],
        BitsPerComponent=8,
        Filter=packed,
    )
