"""Photos: checked, turned upright, made smaller, and stripped of place and camera data."""

from __future__ import annotations

import hashlib
import io
import threading
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..core.errors import KyklosError

if TYPE_CHECKING:
    from PIL import Image

MOST_BYTES = 20_000_000
MOST_PIXELS = 60_000_000
MOST_SIDE, MOST_SLENDER = 20_000, 50  #: [px]; longer side against the shorter.
ORIENTATION = 274  #: The tag in which a camera tells how it was held.
#: How a picture is turned for each of its values: numbers of Pillow's Transpose.
TURNS = {2: 0, 3: 3, 4: 1, 5: 5, 6: 4, 7: 6, 8: 2}
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


_ONE = threading.Lock()  #: One picture at a time is decoded: several together would not fit.


def _jpeg(image: Image.Image, side: int) -> bytes:
    from PIL import Image

    shown = image.copy()
    shown.thumbnail((side, side), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    shown.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue()


def prepared(content: bytes) -> Picture:
    """Check a picture, turn it upright and write it anew, so that nothing but its pixels is kept.

    It is asked before anything is written, never within a write: decoding takes its time. One is decoded at once, in little room: it is
    made smaller as it is, before anything else is done to it.

    Raises:
        PictureError: If it is too large, broken, or no JPEG, PNG or WebP.
    """
    if len(content) > MOST_BYTES:
        raise PictureError(f"The photo is larger than {MOST_BYTES // 1_000_000} MB.")
    with _ONE:
        return _prepared(content)


def _prepared(content: bytes) -> Picture:
    from PIL import Image, UnidentifiedImageError  # read in when a picture first comes

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            clean = _upright(content)
    except PictureError:
        raise
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, MemoryError, Image.DecompressionBombError, Warning) as problem:
        raise PictureError("This file cannot be read as a photo: JPEG, PNG or WebP.") from problem
    large = _jpeg(clean, LARGE_PX)
    with Image.open(io.BytesIO(large)) as kept:
        width, height = kept.size
    return Picture(large, _jpeg(clean, SMALL_PX), hashlib.sha256(large).hexdigest(), width, height)


def _upright(content: bytes) -> Image.Image:
    """Decode a picture, already made smaller, turned upright, on white."""
    from PIL import Image

    with Image.open(io.BytesIO(content), formats=KINDS) as opened:
        width, height = opened.size
        if width * height > MOST_PIXELS or max(width, height) > MOST_SIDE:
            raise PictureError("The photo has too many pixels.")
        if min(width, height) < 1 or max(width, height) > MOST_SLENDER * min(width, height):
            raise PictureError("The photo is far too long for its width.")
        turned = opened.getexif().get(ORIENTATION, 1)
        opened.draft("RGB", (2 * LARGE_PX, 2 * LARGE_PX))  # a JPEG is decoded at a part of its size
        opened.load()
        factor = max(1, max(opened.size) // (2 * LARGE_PX))
        if factor > 1 and opened.mode in {"L", "RGB", "RGBA", "CMYK", "YCbCr", "LA"}:
            small = opened.reduce(factor)
        elif factor > 1:
            small = opened.convert("RGBA" if "transparency" in opened.info else "RGB").reduce(factor)
        else:
            small = opened.copy()
    shown = small.convert("RGBA")
    way = TURNS.get(turned)
    if way is not None:
        shown = shown.transpose(Image.Transpose(way))
    clean = Image.new("RGB", shown.size, "white")
    clean.paste(shown, mask=shown.getchannel("A"))
    return clean
