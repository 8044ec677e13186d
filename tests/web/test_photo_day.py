"""A photo's own date: offered where it differs, put there by a tap, undone; what is no date is no offer."""

import io
import re
from datetime import timedelta

import pytest
from PIL import Image
from sqlalchemy import text

from kyklos.store.records import Photo


def jpeg(taken):
    """A photo whose camera says when it was taken."""
    image, out = Image.new("RGB", (320, 240), (180, 120, 60)), io.BytesIO()
    exif = Image.Exif()
    if taken:
        exif.get_ifd(0x8769)[0x9003] = taken
    image.save(out, "JPEG", exif=exif)
    return out.getvalue()


def sent(client, brew, taken):
    """Send it, and follow to the page."""
    answer = client.post(f"/brews/{brew}/photos", data={"photo": (io.BytesIO(jpeg(taken)), "p.jpg")}, content_type="multipart/form-data")
    return client.get(answer.headers["Location"].split("#")[0]).text


def test_a_photo_of_another_day_is_offered_that_day(client, kitchen):
    """Taken the day before yesterday, it is put there by one tap, with its time in the household's zone; undo brings it back."""
    brew = kitchen.ready()
    taken = kitchen.clock() - timedelta(days=2)
    page = sent(client, brew, taken.strftime("%Y:%m:%d 08:30:00"))
    assert "The camera says" in page
    action, value = re.search(r'action="(/brews/photos/\d+/day)".*?name="taken" value="([^"]+)"', page, re.S).groups()
    assert client.post(action, data={"taken": value}).status_code == 303
    with kitchen.database.reader() as session:
        assert session.query(Photo).one().at.strftime("%Y-%m-%d %H:%M") == taken.strftime("%Y-%m-%d 07:30")
        change = session.execute(text("SELECT max(id) FROM change")).scalar()
    assert client.post(f"/undo/{change}").status_code == 303
    with kitchen.database.reader() as session:
        assert session.query(Photo).one().at == kitchen.clock()


@pytest.mark.parametrize("taken", ["", "2027:13:45 99:00:00", "1999:01:01 10:00:00", "2090:01:01 10:00:00", "nonsense"])
def test_no_date_no_offer(client, kitchen, taken):
    """No date, no real one, one before the brew or after today: the photo is kept, and nothing is offered."""
    assert "The camera says" not in sent(client, kitchen.ready(), taken)


def test_a_made_up_day_is_refused(client, kitchen):
    """A day before the brew is refused in a sentence, one that cannot be read is not found."""
    brew = kitchen.ready()
    sent(client, brew, "")
    assert client.post("/brews/photos/1/day", data={"taken": "1999-01-01T10:00:00"}).status_code == 422
    assert client.post("/brews/photos/1/day", data={"taken": "soon"}).status_code == 404
