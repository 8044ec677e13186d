"""What the store gives the core to watch with: memory, evidence, courses, contacts."""

from datetime import timedelta

import pytest

from kyklos.actions import household
from kyklos.actions.brewing import readings, watching
from kyklos.actions.cultures import discs
from kyklos.actions.undo import Undo, undo
from kyklos.reckon.cultures import links
from kyklos.reckon.forecast import forecasting, warmth
from kyklos.reckon.judging import verdicts as judging
from kyklos.reckon.judging.evidence import evidence_of
from kyklos.store.read import queries
from kyklos.store.read.memory import remembered
from kyklos.store.records import Brew


def test_an_answer_holds_until_the_file_changes(kitchen):
    """Asked twice it is made once; after an action, and after its undo, it is made anew."""
    asked = []

    def ask():
        with kitchen.database.reader() as session:
            return remembered(session, "how many", lambda: asked.append(1) or len(asked))

    assert (ask(), ask()) == (1, 1)
    brew = kitchen.pitch()
    assert (ask(), ask()) == (2, 2)
    done = kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.9))
    assert ask() == 3
    with kitchen.database.writer() as session:
        undo(session, Undo(done.change_id), kitchen.clock())
    assert ask() == 4


def told(kitchen, number):
    """A brew's evidence now."""
    with kitchen.database.reader() as session:
        brew = queries.get(session, Brew, number)
        now = kitchen.clock()
        return evidence_of(forecasting.forecast_ask_of(session, brew), brew, judging.facts_of(brew, now), now)


def test_evidence_is_read_out_of_the_records(kitchen):
    """Starting pH, swings, heat, a rise, skins and a slow pace are each seen where they were written."""
    brew = kitchen.pitch(measured_ph=4.3)
    kitchen.clock.turn(6)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=4.25, low_c=15, high_c=26))
    first = told(kitchen, brew)
    assert (first.start_ph, first.swing_k, first.skin) == (4.3, 11, None)
    assert first.pace in {"slow", "stuck"}
    kitchen.do(readings.log_look, readings.LogLook(brew_id=brew, surface="bare"))
    assert told(kitchen, brew).skin is False
    kitchen.clock.turn(1)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=4.5, celsius=38))
    last = told(kitchen, brew)
    assert last.largest_rise_ph == pytest.approx(0.25)
    assert last.hottest_c == 38
    assert last.starter_age_days == pytest.approx(0, abs=0.1)


def test_a_daily_low_and_high_stand_for_their_day_only(kitchen):
    """The day before the reading swings between them; the days before stay at the mean, not at the low."""
    brew = kitchen.pitch()
    kitchen.clock.turn(9)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, low_c=18, high_c=26))
    with kitchen.database.reader() as session:
        course = warmth.course_of(queries.get(session, Brew, brew))
    assert dict(course.points) == {8.0: 22, 8.25: 18, 8.75: 26, 9.0: 22}


def test_a_logger_in_the_liquid_beats_one_in_the_air(kitchen):
    """A place's logger tells where the brew has none of its own; struck out it tells nothing."""
    brew, start = kitchen.pitch(), kitchen.clock()
    kitchen.clock.turn(2)

    def log(celsius, **whose):
        rows = "\n".join(f"{start + timedelta(hours=h):%Y-%m-%d %H:%M},{celsius}" for h in range(1, 30))
        return kitchen.do(watching.read_log, watching.ReadLog(text=rows, name="a", zone=start.tzinfo, **whose))

    def warmest():
        with kitchen.database.reader() as session:
            return max((c for _, c in warmth.course_of(queries.get(session, Brew, brew)).points), default=None)

    log(19.0, place_id=kitchen.place)
    assert warmest() == 19
    log(23.0, brew_id=brew)
    assert warmest() == 23


def test_what_shared_the_hotel_is_in_contact(kitchen):
    """A disc that lived beside another is reached through the hotel, one that came after it left is not suspected."""
    ask = household.AddVessel(name="Hotel", kind="hotel", nominal_l=2, usable_l=1.7, diameter_cm=13, material="glass", tapped=False, new_place="Attic", new_place_c=18)  # fmt: skip
    hotel = kitchen.do(household.add_vessel, ask).made["vessel"]
    second = kitchen.do(discs.part_disc, discs.PartDisc(disc_id=kitchen.disc)).made["disc"]
    third = kitchen.do(discs.part_disc, discs.PartDisc(disc_id=kitchen.disc)).made["disc"]
    for disc in (kitchen.disc, second):
        kitchen.clock.turn(1)
        kitchen.do(discs.house_disc, discs.HouseDisc(disc_id=disc, vessel_id=hotel))
    kitchen.clock.turn(1)
    with kitchen.database.reader() as session:
        contact = links.contact_of(session, kitchen.clock())
        joined = {(li.source, li.target) for li in contact}
    assert (("disc", kitchen.disc), ("hotel", hotel)) in joined
    assert (("hotel", hotel), ("disc", second)) in joined
    assert all(("disc", third) not in pair for pair in joined)
