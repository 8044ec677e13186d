"""Documents from elsewhere: logger files, passports and questions are read right or answered in a sentence."""

import json
import random
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest
from click.testing import CliRunner

from kyklos.cli import main
from kyklos.core.base.errors import KyklosError
from kyklos.core.quick.line import understand
from kyklos.core.sheets import logger_file
from kyklos.exchange import passport
from tests.malformed import run

PARIS = ZoneInfo("Europe/Paris")


def hours(text, zone=PARIS):
    """What a file told, in hours of UTC on that day."""
    return [round((when - datetime(2026, 10, 25, tzinfo=UTC).timestamp()) / 3600, 2) for when, _ in logger_file.read(text, zone).points]


@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
def test_lines_end_as_they_like(end):
    """Line feeds, both, or carriage returns alone are the same."""
    text = end.join(["time;temp °C", "2026-10-24 10:00;21.5", "2026-10-24 11:00;21,7", ""])
    assert logger_file.read(text, PARIS).rows == 2


def test_the_hour_that_the_autumn_clock_repeats_is_read_in_order():
    """02:10 summer, 02:40, then 02:10 again: the second time is an hour later; told by its offset it is what it says."""
    local = "time,temp\n2026-10-25 01:40,20\n2026-10-25 02:10,21\n2026-10-25 02:40,22\n2026-10-25 02:10,23\n2026-10-25 02:40,24\n2026-10-25 03:10,25\n"
    assert hours(local) == [-0.33, 0.17, 0.67, 1.17, 1.67, 2.17]
    told = "time,temp\n2026-10-25T02:10:00+01:00,21\n2026-10-25T02:10:00+02:00,22\n"
    assert hours(told) == [0.17, 1.17]


@pytest.mark.parametrize("line", ["0001-01-01 00:00,20", "9999-12-31 23:59,20", "0000-00-00 00:00,20", "2026-02-30 10:00,20"])
def test_times_outside_the_years_are_left_out(line):
    """They count as not understood; the others are read."""
    out = logger_file.read(f"time,temp\n2026-10-24 10:00,21\n{line}\n", PARIS)
    assert (out.rows, out.skipped) == (1, 2)
    with pytest.raises(logger_file.LoggerFileError):
        logger_file.read(f"time,temp\n{line}\n", PARIS)


def test_a_huge_cell_is_answered_in_a_sentence():
    """A cell of a million letters is no table."""
    with pytest.raises(logger_file.LoggerFileError, match="far too long"):
        logger_file.read('time,temp\n2026-10-24 10:00,21\n"' + "x" * 1_000_000 + '",3\n', PARIS)


@pytest.mark.parametrize("digits", ["9" * 400, "9" * 5000, "-" + "9" * 5000, "1e400", "1e5000"])
def test_whole_numbers_of_thousands_of_digits(digits):
    """In a passport and in a question they are refused in one line."""
    told = CliRunner().invoke(main, ["calc", "pressure"], input=f'{{"co2_volumes": {digits}, "temperature_c": 4, "headspace_fraction": 0.03}}')
    assert (told.exit_code, told.stdout) == (2, "")
    assert len(told.stderr.strip().splitlines()) == 1
    with pytest.raises(KyklosError):
        passport.read(f'{{"format": "kyklos-culture-passport", "version": {digits}}}'.encode())


GOOD = {"format": "kyklos-culture-passport", "version": 1, "name": "Bora", "diet": "sugar", "origin": "bought", "begun_on": "2026-01-01", "written_on": "2027-01-01"}  # fmt: skip


@pytest.mark.parametrize("more", [{"name": "  "}, {"name": "Bo\x00ra"}, {"story": "a\x00b"}, {"care": "\x07"}, {"origin": "\x7f"}, {"name": "\ud800"}])
def test_names_that_nobody_sees_are_refused(more):
    """No NUL, no blank name, no letter that cannot be seen."""
    assert passport.read(json.dumps(GOOD).encode()).name == "Bora"
    with pytest.raises(passport.PassportError):
        passport.read(json.dumps({**GOOD, **more}).encode())


def test_malformed_documents_and_lines_make_no_fault():
    """Many spoilt documents, tables, archives' lines and quick lines: read, or one sentence; `tests/malformed.py` runs more."""
    assert run(400, random.Random(20270301)) == 400
    assert understand is not None
