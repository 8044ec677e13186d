"""Photos are decoded in little room, one at a time, outside any write; what cannot be a photo is refused before it is decoded."""

import io
import subprocess
import sys
import threading
import time
import zlib
from struct import pack

import pytest
from PIL import Image

from kyklos.store.file import pictures
from kyklos.store.records import Look, Photo

MEASURE = """
import resource, sys
from kyklos.store.file import pictures
idle = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
for _ in range(int(sys.argv[2])):
    try:
        print(pictures.prepared(open(sys.argv[1], "rb").read()).width, file=sys.stderr)
    except pictures.PictureError as problem:
        print(problem, file=sys.stderr)
after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
print((after - idle) / 1024, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024)
"""


def needs_mb(path, times=1):
    """How much memory a photo takes over idle at its peak, of both processes, what is left of it afterwards [MB], and what was said of it."""
    out = subprocess.run([sys.executable, "-c", MEASURE, str(path), str(times)], capture_output=True, text=True, check=True)
    left, beside = map(float, out.stdout.split())
    return left + beside, left, out.stderr


def png(width, height):
    """A PNG of so many pixels that takes few bytes."""

    def chunk(kind, data):
        return pack(">I", len(data)) + kind + data + pack(">I", zlib.crc32(kind + data))

    head = pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    body = zlib.compress(b"\x00" * (min(height, 10) * (3 * width + 1)), 9) if width * height > 1e8 else b""
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


@pytest.mark.parametrize(("kind", "mode"), [("PNG", "RGB"), ("PNG", "RGBA"), ("JPEG", "RGB"), ("PNG", "P"), ("WEBP", "RGB")])
def test_fifty_megapixels_stay_within_300_mb(tmp_path, kind, mode):
    """A picture of 50 megapixels, of each kind, takes less than 300 MB over idle, or is refused; nothing of it is left."""
    path = tmp_path / "large"
    more = {"lossless": False, "quality": 10} if kind == "WEBP" else {}
    Image.new(mode, (8150, 6130), 7 if mode == "P" else (200, 120, 40, 255)[: len(mode)]).save(path, kind, **more)
    peak, left, words = needs_mb(path)
    assert peak < 300
    assert left < 10
    assert "JPEG" in words if kind == "WEBP" else words == "1600\n"


def test_six_photos_of_twelve_megapixels_leave_nothing_behind(tmp_path):
    """One after the other, as large as a phone makes them: the serving process is as it was."""
    Image.effect_noise((4000, 3000), 60).convert("RGB").save(tmp_path / "photo.jpg", "JPEG")
    assert needs_mb(tmp_path / "photo.jpg", 6)[1] < 30


def test_what_needs_more_room_than_it_gets_is_refused(tmp_path, monkeypatch):
    """The process that decodes is bound: it ends with a sentence, and the house goes on."""
    small = tmp_path / "worker.py"
    small.write_text(pictures.WORKER.read_text().replace("ROOM_BYTES = 290_000_000", "ROOM_BYTES = 30_000_000"))
    monkeypatch.setattr(pictures, "WORKER", small)
    out = io.BytesIO()
    Image.new("RGB", (5000, 4000), "white").save(out, "PNG")
    with pytest.raises(pictures.PictureError, match="room"):
        pictures.prepared(out.getvalue())


@pytest.mark.parametrize("size", [(59_999_999, 1), (1, 59_999_999), (70_000, 70_000), (30_000, 1_900), (15_000, 100), (0, 5)])
def test_what_is_too_large_is_refused_by_what_it_declares(tmp_path, size):
    """A few kB that declare millions of pixels are refused in a moment, in next to no memory."""
    path = tmp_path / "bomb.png"
    path.write_bytes(png(*size))
    began = time.monotonic()
    with pytest.raises(pictures.PictureError):
        pictures.prepared(path.read_bytes())
    assert time.monotonic() - began < 1.5
    assert needs_mb(path)[0] < 60


def photo(size=(2400, 1800), **more):
    """A photo's bytes."""
    out = io.BytesIO()
    Image.effect_noise(size, 60).convert("RGB").save(out, "JPEG", **more)
    return out.getvalue()


@pytest.mark.parametrize("turned", range(1, 9))
def test_a_photo_stands_upright(turned):
    """However the camera was held, the mark in the upper left corner is there, and nothing of the camera is kept."""
    image = Image.new("RGB", (400, 300), "white")
    image.paste("black", (0, 0, 100, 80))
    from kyklos.store.file.picture_worker import TURNS

    back = {0: 0, 1: 1, 2: 4, 3: 3, 4: 2, 5: 5, 6: 6}
    held = image if turned == 1 else image.transpose(Image.Transpose(back[TURNS[turned]]))
    exif = Image.Exif()
    exif[274] = turned
    out = io.BytesIO()
    held.save(out, "JPEG", quality=95, exif=exif)
    kept = pictures.prepared(out.getvalue())
    with Image.open(io.BytesIO(kept.large)) as shown:
        assert shown.size == (400, 300)
        assert shown.convert("L").getpixel((40, 30)) < 60
        assert shown.convert("L").getpixel((350, 250)) > 200
        assert not shown.getexif()


def test_six_photos_at_once_never_make_another_write_wait(demo_client, demo, monkeypatch):
    """While six large photos are being decoded, and none of them can end, a look is written all the same."""
    real, go_on = pictures._decoded, threading.Event()

    def when_told(content):
        assert go_on.wait(60)
        return real(content)

    monkeypatch.setattr(pictures, "_decoded", when_told)
    content, app = photo(), demo_client.application

    def send():
        app.test_client().post("/brews/7/photos", data={"photo": (io.BytesIO(content), "p.jpg")}, content_type="multipart/form-data")

    senders = [threading.Thread(target=send) for _ in range(6)]
    for sender in senders:
        sender.start()
    assert demo_client.post("/brews/8/look", data={"surface": "skin"}).status_code == 303
    assert all(sender.is_alive() for sender in senders)
    go_on.set()
    for sender in senders:
        sender.join()
    with demo.reader() as session:
        assert session.query(Photo).count() >= 6


def test_a_look_with_a_bad_photo_sent_again_is_one_look(demo_client, demo):
    """The photo is refused before the look is written: mended and sent again there is one look, with its photo."""
    with demo.reader() as session:
        before = session.query(Look).count()
    told = {"surface": "skin"}
    bad = demo_client.post("/brews/8/inspect", data={**told, "photo": (io.BytesIO(b"no photo"), "p.jpg")}, content_type="multipart/form-data")
    assert bad.status_code == 422
    good = demo_client.post("/brews/8/inspect", data={**told, "photo": (io.BytesIO(photo((300, 200))), "p.jpg")}, content_type="multipart/form-data")
    assert good.status_code == 303
    with demo.reader() as session:
        assert session.query(Look).count() == before + 1
