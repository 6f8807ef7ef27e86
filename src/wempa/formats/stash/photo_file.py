"""Photos in: JPEG or PNG to upright sRGB pixels, with limits; and out again as small JPEGs."""

from __future__ import annotations

import io
import warnings

import numpy as np
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from wempa.craft.limits import MAX_PIXELS, MAX_UPLOAD
from wempa.formats.text_table import FileError
from wempa.optics.photo import Pixels

MAX_SIDE = 2000
"""Longer side, in pixels, that a photo is brought down to: enough to read swatches from."""


class ImageError(FileError):
    """A file that is no photo Wempa can read; one sentence."""


def decode(data: bytes) -> Pixels:
    """Upright sRGB pixels (height, width, 3) of a JPEG or PNG, at most `MAX_SIDE` wide or high.

    The camera's rotation mark is heeded and its colour profile turned into sRGB; all
    else that the file says about where and when it was taken is dropped.

    Raises
    ------
    ImageError
        Too many bytes or pixels, another kind of file, or one that breaks off.
    """
    if len(data) > MAX_UPLOAD:
        raise ImageError(f"the photo has {len(data) / 1e6:.0f} MB; {MAX_UPLOAD / 1e6:.0f} MB is the most")
    try:
        with warnings.catch_warnings():
            # Its size is checked below, before anything is unpacked.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image: Image.Image = Image.open(io.BytesIO(data), formats=("JPEG", "PNG"))
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError) as error:
        if isinstance(error, Image.DecompressionBombError):
            raise ImageError(f"the photo has more than {MAX_PIXELS / 1e6:.0f} megapixels") from error
        raise ImageError("this is neither a JPEG nor a PNG") from error
    if image.width * image.height > MAX_PIXELS:
        raise ImageError(
            f"the photo has {image.width * image.height / 1e6:.0f} megapixels; {MAX_PIXELS / 1e6:.0f} is the most"
        )
    try:
        image.draft("RGB", (MAX_SIDE, MAX_SIDE))
        image.load()
        profile = image.info.get("icc_profile")
        upright = _as_rgb(ImageOps.exif_transpose(image))
        if profile:
            upright = _to_srgb(upright, profile)
        upright.thumbnail((MAX_SIDE, MAX_SIDE), Image.Resampling.BOX)
    except (OSError, SyntaxError, ValueError, EOFError) as error:
        raise ImageError("the photo is damaged or breaks off before its end") from error
    return np.asarray(upright)


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
