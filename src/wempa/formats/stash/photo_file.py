"""Photos in, as phones make them: JPEG, PNG, HEIC and DNG to upright sRGB pixels, with limits; small JPEGs out."""

from __future__ import annotations

import io
import struct
import warnings
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image, ImageCms, ImageOps, TiffImagePlugin, UnidentifiedImageError

from wempa.craft.limits import MAX_PIXELS, MAX_UPLOAD
from wempa.formats.text_table import FileError
from wempa.optics.photo import Pixels

MAX_SIDE = 2000
"""Longer side, in pixels, that a photo is brought down to: enough to read swatches from."""
_MAKE, _MODEL = 0x010F, 0x0110
_MOST_NAME = 80
# A raw photo is brightened so that nearly its brightest is here, of full scale.
_RAW_WHITE, _RAW_BRIGHTEST = 0.85, 99.5
# Side over side beyond which a picture is no photo: it costs time by its length and shows no swatch.
_LONGEST = 20


class ImageError(FileError):
    """A file that is no photo Wempa can read; one sentence."""


@dataclass(frozen=True, slots=True, eq=False)
class PhotoFile:
    """A photo taken in."""

    pixels: Pixels
    """Upright, gamma-coded sRGB, (height, width, 3)."""
    phone: str
    """Make and model of what took it; empty where the file does not say."""
    raw: bool
    """Whether it is the sensor's own light, which no phone has rendered."""
    copied: bool = False
    """Whether no camera can have written it so: a screenshot, or a picture saved out of another program."""


def decode(data: bytes) -> Pixels:
    """`open_photo`, the pixels alone."""
    return open_photo(data).pixels


def open_photo(data: bytes) -> PhotoFile:
    """A JPEG, PNG, HEIC or DNG, brought upright and to at most `MAX_SIDE` wide or high.

    The camera's rotation mark is heeded and its colour profile turned into sRGB; a DNG is developed in light,
    by the camera's own white balance and matrix. Of what else the file says only make and model are told.

    Raises
    ------
    ImageError
        Too many bytes or pixels, another kind of file, or one that breaks off.
    """
    if len(data) > MAX_UPLOAD:
        raise ImageError(f"the photo has {len(data) / 1e6:.0f} MB; {MAX_UPLOAD / 1e6:.0f} MB is the most")
    if data[:4] in (b"II*\0", b"MM\0*"):
        return _developed(data)
    if data[4:8] == b"ftyp":
        import pillow_heif

        pillow_heif.register_heif_opener()
    try:
        with warnings.catch_warnings():
            # Its size is checked below, before anything is unpacked.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image: Image.Image = Image.open(io.BytesIO(data), formats=("JPEG", "PNG", *_heif()))
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError) as error:
        if isinstance(error, Image.DecompressionBombError):
            raise ImageError(f"the photo has more than {MAX_PIXELS / 1e6:.0f} megapixels") from error
        raise ImageError("this is no JPEG, PNG, HEIC or DNG") from error
    _check_size(image.width, image.height)
    try:
        image.draft("RGB", (MAX_SIDE, MAX_SIDE))
        image.load()
        profile = image.info.get("icc_profile")
        phone = _phone(image.getexif())
        upright = _as_rgb(ImageOps.exif_transpose(image))
        if profile:
            upright = _to_srgb(upright, profile)
        upright.thumbnail((MAX_SIDE, MAX_SIDE), Image.Resampling.BOX)
    except (OSError, SyntaxError, ValueError, EOFError) as error:
        raise ImageError("the photo is damaged or breaks off before its end") from error
    return PhotoFile(np.asarray(upright), phone, False, copied=image.format == "PNG" and not phone)


def _heif() -> tuple[str, ...]:
    return ("HEIF",) if "HEIF" in Image.OPEN else ()


def _check_size(width: int, height: int) -> None:
    if width * height > MAX_PIXELS:
        raise ImageError(f"the photo has {width * height / 1e6:.0f} megapixels; {MAX_PIXELS / 1e6:.0f} is the most")
    if max(width, height) > _LONGEST * min(width, height):
        raise ImageError(f"a picture of {width} by {height} pixels is no photo of swatches")


def _phone(exif: Mapping[int, Any]) -> str:
    """Make and model as one name, without control characters."""
    words = [str(exif.get(tag) or "") for tag in (_MAKE, _MODEL)]
    if words[1].lower().startswith(words[0].lower()):
        words = words[1:]
    return " ".join("".join(c if c.isprintable() else " " for c in " ".join(words)).split())[:_MOST_NAME]


def _developed(data: bytes) -> PhotoFile:
    """A DNG's own light, as sRGB would code it."""
    import rawpy

    try:
        with rawpy.imread(io.BytesIO(data)) as raw:
            sizes = raw.sizes
            _check_size(sizes.raw_width, sizes.raw_height)
            light = raw.postprocess(
                gamma=(1, 1),
                no_auto_bright=True,
                use_camera_wb=True,
                output_bps=16,
                output_color=rawpy.ColorSpace.sRGB,
                half_size=sizes.raw_width > 2 * MAX_SIDE,
            )
    except (rawpy.LibRawError, ValueError, MemoryError) as error:
        raise ImageError("this raw photo cannot be developed: save it as DNG, or send a JPEG") from error
    linear = light.astype(np.float32) / 65535
    linear *= _RAW_WHITE / max(float(np.percentile(linear, _RAW_BRIGHTEST)), 1e-3)
    coded = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-6) ** (1 / 2.4) - 0.055)
    small = Image.fromarray((coded.clip(0, 1) * 255 + 0.5).astype(np.uint8), "RGB")
    small.thumbnail((MAX_SIDE, MAX_SIDE), Image.Resampling.BOX)
    return PhotoFile(np.asarray(small), _maker_of_raw(data), True)


def _maker_of_raw(data: bytes) -> str:
    """Make and model out of a DNG's first directory, which is a TIFF's; empty where it cannot be read."""
    try:
        directory = TiffImagePlugin.ImageFileDirectory_v2(data[:8])
        source = io.BytesIO(data)
        source.seek(directory.next)
        directory.load(source)
        return _phone(directory)
    except (OSError, ValueError, SyntaxError, TypeError, KeyError, struct.error):
        return ""


def _as_rgb(image: Image.Image) -> Image.Image:
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        # What shows through is taken for white.
        layer = image.convert("RGBA")
        ground = Image.new("RGBA", layer.size, "white")
        return Image.alpha_composite(ground, layer).convert("RGB")
    if image.mode.startswith("I"):
        wide = np.asarray(image, dtype=np.float64)
        return Image.fromarray((wide / 257).clip(0, 255).astype(np.uint8)).convert("RGB")
    return image.convert("RGB")


def _to_srgb(image: Image.Image, profile: bytes) -> Image.Image:
    """From the camera's own colour space; as it is where the profile cannot be used."""
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        found = ImageCms.profileToProfile(image, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except (ImageCms.PyCMSError, OSError):
        return image
    return image if found is None else found


def encode(photo: Pixels) -> bytes:
    """A JPEG of the pixels, with full colour resolution and nothing else in it."""
    out = io.BytesIO()
    Image.fromarray(photo, "RGB").save(out, "JPEG", quality=92, subsampling=0)
    return out.getvalue()
