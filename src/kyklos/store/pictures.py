"""Photos: checked, turned upright, made smaller, and stripped of place and camera data."""

from __future__ import annotations

import hashlib
import io
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..core.errors import KyklosError

if TYPE_CHECKING:
    from PIL import Image

MOST_BYTES = 20_000_000
MOST_PIXELS = 60_000_000
LARGE_PX, SMALL_PX = 1600, 360  #: Longer side. [px]
KINDS = ("JPEG", "PNG", "WEBP")


class PictureError(KyklosError):
    """The file is no picture that can be kept."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture as it is kept: JPEG of pixels only."""

    large: bytes
    small: bytes
    sha: str
    width: int  #: [px]
    height: int  #: [px]


def _jpeg(image: Image.Image, side: int) -> bytes:
    from PIL import Image

    shown = image.copy()
    shown.thumbnail((side, side), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    shown.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue()


def prepared(content: bytes) -> Picture:
    """Check a picture, turn it upright and write it anew, so that nothing but its pixels is kept.

    Raises:
        PictureError: If it is too large, broken, or no JPEG, PNG or WebP.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError  # read in when a picture first comes

    if len(content) > MOST_BYTES:
        raise PictureError(f"The photo is larger than {MOST_BYTES // 1_000_000} MB.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(content), formats=KINDS)
            if opened.width * opened.height > MOST_PIXELS:
                raise PictureError("The photo has too many pixels.")
            upright = ImageOps.exif_transpose(opened)
            clean = Image.new("RGB", upright.size, "white")
            shown = upright.convert("RGBA")
            clean.paste(shown, mask=shown.getchannel("A"))
    except PictureError:
        raise
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError, Warning) as problem:
        raise PictureError("This file cannot be read as a photo: JPEG, PNG or WebP.") from problem
    large = _jpeg(clean, LARGE_PX)
    with Image.open(io.BytesIO(large)) as kept:
        width, height = kept.size
    return Picture(large, _jpeg(clean, SMALL_PX), hashlib.sha256(large).hexdigest(), width, height)
