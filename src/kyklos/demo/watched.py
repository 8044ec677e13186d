"""How Quince Yard watches: its instruments, pictures, notes, a correction, what is put off, a journey, planned days."""

from __future__ import annotations

import io
import math
import random
from datetime import timedelta

from PIL import Image, ImageDraw, ImageFilter

from ..actions import calendar
from ..actions.brewing import blind, calibrating, correcting, happenings, readings, watching
from ..actions.notes import WriteNote, write_note
from ..actions.undo import Undo, undo
from ..store.read import queries
from ..store.records import BlindTasting, Change
from .day import DEMO_NOW
from .instruments import calibrated
from .kitchen import BRAM, ODILE, Kitchen, days_ago


def instruments(k: Kitchen) -> None:
    """A pocket meter whose calibration is due tomorrow, strips, a thermometer, a hydrometer."""
    meter = k.do(
        watching.add_instrument, watching.AddInstrument(kind="meter", name="Pocket meter", interval_days=30), 119
    )
    k.do(calibrating.note_calibration, calibrating.NoteCalibration(instrument_id=meter["instrument"]), 118)
    calibrated(k, meter["instrument"])
    for kind, name in (("strip", "Strips in the drawer"), ("thermometer", "Milk thermometer"), ("hydrometer", "")):
        k.do(watching.add_instrument, watching.AddInstrument(kind=kind, name=name), 119)


def picture(day: float, seed: int, tea: tuple[int, int, int]) -> bytes:
    """Paint a jar from above as a phone might take it: liquid, then a film that closes and turns pale. [d]"""
    rng, size = random.Random(seed), 480
    image = Image.new("RGB", (size, size), (104, 84, 66))
    draw = ImageDraw.Draw(image)
    for _ in range(60):
        row = rng.randrange(size)
        draw.line(
            (0, row, size, row + rng.randrange(-9, 9)),
            fill=(96 + rng.randrange(18), 78 + rng.randrange(12), 60),
            width=3,
        )
    draw.ellipse((30, 30, 450, 450), fill=(214, 210, 200))
    draw.ellipse((44, 44, 436, 436), fill=tea)
    grown = min(1.0, day / 9)
    pale = tuple(int(c + (236 - c) * 0.75 * grown) for c in tea)
    for _ in range(int(26 * grown) + 2):
        angle, far = rng.uniform(0, 2 * math.pi), rng.uniform(0, 150)
        x, y, r = 240 + far * math.cos(angle), 240 + far * math.sin(angle), rng.uniform(20, 30 + 90 * grown)
        r = min(r, 192 - far)
        draw.ellipse((x - r, y - r, x + r, y + r), fill=pale)
    for _ in range(int(30 * grown) + 6):
        angle, far, r = rng.uniform(0, 2 * math.pi), rng.uniform(0.0, 178.0), rng.uniform(2.0, 7.0)
        x, y = 240 + far * math.cos(angle), 240 + far * math.sin(angle)
        draw.ellipse((x - r, y - r, x + r, y + r), outline=(250, 246, 232), width=2)
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(1.6)).save(out, "JPEG", quality=88)
    return out.getvalue()


def _pictures(k: Kitchen, at: dict[str, int]) -> None:
    for ago, note in ((4.3, "First clear film."), (1.4, "Closed from rim to rim.")):
        content = picture(8.4 - ago, 5, (150, 84, 36))
        k.do(watching.add_photo, watching.AddPhoto(brew_id=at["crock"], content=content, note=note), ago)
    k.do(watching.add_photo, watching.AddPhoto(brew_id=at["jun"], content=picture(2.8, 9, (206, 168, 86))), 0.5)


def _records(k: Kitchen, at: dict[str, int]) -> None:
    """A note, a titration, a reading typed wrong and corrected, a look that was the wrong jar's, a day's low and high."""
    k.do(write_note, WriteNote(about="brew", about_id=at["crock"], text="Turned it away from the stove."), 3)
    titrated = readings.LogReading(
        brew_id=at["crock"], base_ml=5.3, base_normality=0.1, sample_ml=10.0, note="After the second cup."
    )
    k.do(readings.log_reading, titrated, 1.45)
    wrong = k.do(readings.log_reading, readings.LogReading(brew_id=at["jun"], ph=2.53, celsius=20.6), 0.45)["reading"]
    right = readings.LogReading(brew_id=at["jun"], ph=3.53, celsius=20.6)
    k.do(correcting.correct_reading, correcting.CorrectReading(reading_id=wrong, now=right), 0.44)
    look = k.do(readings.log_look, readings.LogLook(brew_id=at["jun"], surface="disc"), 0.43)["look"]
    k.do(correcting.strike, correcting.Strike(kind="look", number=look), 0.42)
    k.do(readings.log_reading, readings.LogReading(brew_id=at["late"], celsius=17.1, low_c=13.4, high_c=18.9), 2.2)
    sheet = readings.LogTasting(
        brew_id=at["crock"], taster_id=ODILE, score=-1, tea=2, yeast=1, again=True, after="bread", note="Apple."
    )
    k.do(readings.log_tasting, sheet, 0.5)
    k.do(
        readings.log_tasting,
        readings.LogTasting(brew_id=at["crock"], taster_id=BRAM, score=0, tea=2, yeast=1, again=True),
        0.5,
    )
    caution = watching.OverruleVerdict(
        brew_id=at["late"], word="watch", reason="The cloth had slipped on its shelf once."
    )
    k.do(watching.overrule_verdict, caution, 2.1)


def _blind(k: Kitchen, at: dict[str, int]) -> None:
    """The late jar against the crock, by letter, shown; and once more, still blind."""
    both = blind.StartBlind(brew_ids=(at["crock"], at["late"]), seed=4)
    row = k.do(blind.start_blind, both, 1.6)["blind"]
    with k.database.reader() as session:
        letters = {number: "AB"[i] for i, number in enumerate(queries.get(session, BlindTasting, row).brews)}
    said = (
        (ODILE, "crock", -2, "Round."),
        (ODILE, "late", 2, "Sharp."),
        (BRAM, "crock", -1, ""),
        (BRAM, "late", 3, "Vinegar."),
    )
    for taster, name, score, note in said:
        sheet = blind.FillSheet(blind_id=row, taster_id=taster, letter=letters[at[name]], score=score, note=note)
        k.do(blind.fill_sheet, sheet, 1.59)
    k.do(blind.reveal, blind.Reveal(blind_id=row), 1.58)
    again = k.do(blind.start_blind, both, 0.1)["blind"]
    k.do(blind.fill_sheet, blind.FillSheet(blind_id=again, taster_id=ODILE, letter="A", score=0), 0.09)


def _days(k: Kitchen, at: dict[str, int], vessels: dict[str, int]) -> None:
    """Four days by the sea next week, a harvest and a brew that are planned, a look that is put off."""
    today = DEMO_NOW.date()
    k.do(calendar.go_away, calendar.GoAway(leaves=today + timedelta(days=7), returns=today + timedelta(days=12)), 0.3)
    for kind, vessel, ahead in (("harvest", vessels["crock"], 2), ("brew", vessels["late"], 4)):
        k.do(calendar.plan_day, calendar.PlanDay(kind=kind, vessel_id=vessel, day=today + timedelta(days=ahead)), 0.3)
    k.do(calendar.put_off, calendar.PutOffDue(what=f"brew-{at['jun']}-label", until=days_ago(-1)), 0.3)


def _happened(k: Kitchen, at: dict[str, int]) -> None:
    """A glass from the jun, and one that was written down for the wrong jar and undone."""
    glass = happenings.TakeOut(brew_id=at["jun"], leaves="drunk", litres=0.25)
    k.do(happenings.take_out, glass, 1.6)
    k.do(happenings.take_out, happenings.TakeOut(brew_id=at["late"], leaves="drunk", litres=0.25), 1.4)
    with k.database.reader() as session:
        last = session.query(Change.id).order_by(Change.id.desc()).first()
    k.do(undo, Undo(last[0] if last else 0), 1.35)


def watched(k: Kitchen, at: dict[str, int]) -> None:
    """Write all of it.

    Args:
        k: Runs the actions.
        at: Numbers of the living brews: crock, jun, late, young.
    """
    _pictures(k, at)
    _records(k, at)
    _happened(k, at)
    _blind(k, at)
    for name in ("crock", "late"):
        k.do(watching.label_brew, watching.LabelBrew(brew_id=at[name]), 2)
    _days(k, at, {"crock": 1, "late": 4})
