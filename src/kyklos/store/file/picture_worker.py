"""Decodes one picture in a process of its own, with little room: what needs more is refused, and all it took is gone with the process.

It stands alone: run as a program it reads a picture from standard input and writes sizes, then the two pictures, to standard output.
"""

from __future__ import annotations

import contextlib
import io
import json
import resource
import sys
import warnings
from typing import Any

ROOM_BYTES = 290_000_000  #: Over what the program itself takes. [bytes]
MOST_PIXELS = 60_000_000
MOST_WEBP = 16_000_000  #: WebP is decoded whole, twice over. [px]
MOST_SIDE, MOST_SLENDER = 20_000, 50  #: [px]; longer side against the shorter.
ORIENTATION = 274  #: The tag in which a camera tells how it was held.
OF_THE_SHOT, TAKEN = 0x8769, 0x9003  #: Where a camera tells when it was taken: "2027:02:12 08:30:00", by its own clock.
#: How a picture is turned for each of its values: numbers of Pillow's Transpose.
TURNS = {2: 0, 3: 3, 4: 1, 5: 5, 6: 4, 7: 6, 8: 2}
LARGE_PX, SMALL_PX = 1600, 360  #: Longer side. [px]
KINDS = ("JPEG", "PNG", "WEBP")
UNREADABLE = "This file cannot be read as a photo: JPEG, PNG or WebP."


class RefusedPicture(Exception):  # noqa: N818, it never leaves this program but as a sentence
    """The picture is refused, with a sentence."""


def _refuse_by_size(kind: str | None, width: int, height: int) -> None:
    """Refuse by what the file declares, before anything is decoded."""
    if width * height > MOST_PIXELS or max(width, height) > MOST_SIDE:
        raise RefusedPicture("The photo has too many pixels.")
    if min(width, height) < 1 or max(width, height) > MOST_SLENDER * min(width, height):
        raise RefusedPicture("The photo is far too long for its width.")
    if kind == "WEBP" and width * height > MOST_WEBP:
        raise RefusedPicture("The photo is too large for a WebP. Save it as JPEG, or smaller.")


def _taken(content: bytes) -> str:
    """Return when a camera says it took the picture; empty: it does not say."""
    from PIL import Image

    with contextlib.suppress(Exception), Image.open(io.BytesIO(content), formats=KINDS) as opened:
        return str(opened.getexif().get_ifd(OF_THE_SHOT).get(TAKEN, ""))[:19]
    return ""


def _upright(content: bytes) -> Any:
    """Decode a picture, already made smaller, turned upright, on white."""
    from PIL import Image

    with Image.open(io.BytesIO(content), formats=KINDS) as opened:
        width, height = opened.size
        _refuse_by_size(opened.format, width, height)
        turned = opened.getexif().get(ORIENTATION, 1)
        part = next((n for n in (8, 4, 2) if max(width, height) // n >= LARGE_PX), 1)
        opened.draft("RGB", (width // part, height // part))  # a JPEG is decoded at a part of its size
        opened.load()
        small = _smaller(opened, max(1, max(opened.size) // (2 * LARGE_PX)))
        opened.close()  # and all that was decoded of it
    shown = small.convert("RGBA")
    small.close()
    way = TURNS.get(turned)
    if way is not None:
        shown = shown.transpose(Image.Transpose(way))
    clean = Image.new("RGB", shown.size, "white")
    clean.paste(shown, mask=shown.getchannel("A"))
    return clean


def _smaller(opened: Any, factor: int) -> Any:
    """Make a decoded picture so many times smaller; what needs a second copy for that is done strip by strip."""
    from PIL import Image

    if factor == 1:
        return opened.copy()
    if opened.mode in {"L", "RGB", "CMYK", "YCbCr"}:
        return opened.reduce(factor)
    mode = "RGBA" if "A" in opened.mode or "transparency" in opened.info else "RGB"
    width, height = opened.size
    out = Image.new(mode, (-(-width // factor), -(-height // factor)))
    for top in range(0, height, 64 * factor):
        strip = opened.crop((0, top, width, min(height, top + 64 * factor)))
        out.paste(strip.convert(mode).reduce(factor), (0, top // factor))
    return out


def _jpeg(image: Any, side: int) -> tuple[bytes, tuple[int, int]]:
    from PIL import Image

    shown = image.copy()
    shown.thumbnail((side, side), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    shown.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), shown.size


def _bound() -> None:
    """Let this process take so much more than it has, and no more."""
    with open("/proc/self/statm") as pages:
        taken = int(pages.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (taken + ROOM_BYTES, taken + ROOM_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (30, 30))


def main() -> int:
    """Decode what comes on standard input."""
    from PIL import Image, ImageFile, JpegImagePlugin, PngImagePlugin, WebPImagePlugin  # noqa: F401, read in before the bound

    content = sys.stdin.buffer.read()
    with contextlib.suppress(OSError):  # a system without these files is bound by its own means
        _bound()
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            clean = _upright(content)
            large, (width, height) = _jpeg(clean, LARGE_PX)
            small, _ = _jpeg(clean, SMALL_PX)
    except RefusedPicture as problem:
        print(problem, file=sys.stderr)
        return 1
    except MemoryError:
        print("The photo needs too much room to be read. Save it smaller.", file=sys.stderr)
        return 1
    except Exception:  # whatever a broken picture raises
        print(UNREADABLE, file=sys.stderr)
        return 1
    head = {"large": len(large), "small": len(small), "width": width, "height": height, "taken": _taken(content)}
    sys.stdout.buffer.write(json.dumps(head).encode() + b"\n" + large + small)
    return 0


if __name__ == "__main__":
    sys.exit(main())
