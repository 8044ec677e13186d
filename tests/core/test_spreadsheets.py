"""Ten spreadsheets as people really keep them, made up: each is read as its keeper meant it."""

import io
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest
from openpyxl import Workbook

from kyklos.core.base import CoreError
from kyklos.core.sheets.spreadsheet import SheetAsk, read
from kyklos.exchange.workbook import carried, tables_of, uncarried

NOW = datetime(2027, 4, 1, tzinfo=UTC)
#: Each file by its name; a workbook is sheets of rows.
FILES = {
    "log.csv": "Date,Jar,pH,Temp (F),Notes\n2027-01-02,Big,4.3,72,pitched\n2027-01-06,Big,3.6,71,\n2027-01-10,Big,3.2,,tart\n",
    "semicolons.csv": "pH;Datum;Glas;Temperatur °C;Jar\n4,4;2.1.2027;;21,5;Krug\n3,5;9.1.2027;;20,0;Krug\n",
    "batches.csv": "Batch #,Brew date,Container,Gallons (gal),Sugar (cups),Start pH,Bottled,Final pH,Comments\n"
    "1,25/1/2027,Crock,1,1,4.5,4/2/2027,3.1,first of the year\n2,6/2/2027,Crock,1,1,4.4,,,\n",
    "words.csv": "Day,Jar,Who,Taste\n12 Jan 2027,Blue,Odile,still a bit sweet\n15 Jan 2027,Blue,Bram,too sour\n15 Jan 2027,Blue,Odile,just right\n",
    "american.csv": "Jar,Started,Checked,pH,Room\nPantry,1/18/2027,1/18/2027,4.4,70\nPantry,1/18/2027,1/25/2027,3.4,71\n",
    "title.csv": "Our brews,,,\nkept by us,,,\n,,,\nVessel,Start,End,Comments\nTall,2027-01-01,2027-01-11,nice\nTall,2027-01-12,,\nTotal,2,,\n",
    "bottles.csv": "Bottled on,Jar,Flavour,How many,Bottle size,Left\n2027-02-01,Tall,damson,6,500 ml swing,2\n2027-02-01,Tall,plain,2,330 ml beer,0\n",
    "clock.csv": "date\ttime\tjar\tph\ttemp\n2027-02-01\t8:30\tTall\t3.9\t21\n2027-02-01\t8:30 pm\tTall\t3.8\t22\n",
    "gaps.csv": "Jar,Date,pH\nTall,2027-02-01,n/a\nTall,2027-02-03,~3.6 (strip)\nTall,someday,3.5\nTall,2027-02-05,-\nTall,2027-02-06,33\nTall,2027-02-07,3.3\n",
    "sheets.xlsx": {
        "Brews": [["No", "Jar", "Start", "End", "Size (L)"], [1, "Tall", datetime(2027, 1, 2), datetime(2027, 1, 12), 3.5], [2, "Small", datetime(2027, 1, 20), None, 2]],
        "pH": [["Brew no", "Date", "pH"], [1, datetime(2027, 1, 5), 3.8], [1, datetime(2027, 1, 11), 3.2], [2, datetime(2027, 1, 25, 18, 30), 3.6]],
        "Taste": [["Brew no", "Date", "Taster", "Score"], [1, datetime(2027, 1, 10), "Odile", -1], [1, datetime(2027, 1, 12), "Odile", 0]],
        "Bottles": [["Brew no", "Flavour", "Bottles", "Size (mL)"], [1, "damson", 6, 500], [1, "plain", 3, 330]],
        "Empty": [],
    },
}


def as_workbook(sheets):
    """Write sheets as an XLSX file."""
    book, body = Workbook(), io.BytesIO()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    book.save(body)
    return body.getvalue()


def of_file(name, ask=None, us=False):
    """Read one of the files."""
    told = FILES[name]
    content = as_workbook(told) if isinstance(told, dict) else told.encode()
    return read(tables_of(content, name), ask or SheetAsk(), ZoneInfo("UTC"), NOW, us=us)


def days(brew):
    """When it was read, with pH and degrees."""
    return [(r.at.strftime("%m-%d"), r.ph, None if r.celsius is None else round(r.celsius, 1)) for r in brew.readings]


def test_a_log_of_one_jar_in_fahrenheit():
    """A jar of which nobody wrote a start began with its first row; degrees are in °F by their head."""
    (brew,) = of_file("log.csv").brews
    assert (brew.vessel, days(brew)) == ("Big", [("01-02", 4.3, 22.2), ("01-06", 3.6, 21.7), ("01-10", 3.2, None)])


def test_semicolons_commas_and_dots():
    """Decimal commas and days with dots are read as they are written on the continent; columns nobody knows are left out."""
    (brew,) = of_file("semicolons.csv").brews
    assert (brew.vessel, days(brew)) == ("Krug", [("01-02", 4.4, 21.5), ("01-09", 3.5, 20.0)])


def test_one_row_a_batch():
    """Start and end stand in one row: pH of both, gallons, cups of sugar, days with the day first, since one can be nothing else."""
    first, second = of_file("batches.csv").brews
    assert (first.began.date().isoformat(), first.ended.date().isoformat()) == ("2027-01-25", "2027-02-04")
    assert [(r.at.strftime("%m-%d"), r.ph) for r in first.readings] == [("01-25", 4.5), ("02-04", 3.1)]
    assert (round(first.litres, 2), round(first.sugar_g_per_l, 1), first.note) == (3.79, 52.8, "first of the year")
    assert second.ended is None


def test_tastes_in_words():
    """A taste in words is a score, by each taster."""
    (brew,) = of_file("words.csv").brews
    assert [(t.taster, t.score) for t in brew.tastings] == [("Odile", -1), ("Bram", 2), ("Odile", 0)]


def test_months_first_where_a_day_tells():
    """1/25 can only be January: so is 1/18. Rooms at 70 are in °F, though nobody says so."""
    sheet = of_file("american.csv")
    assert (sheet.month_first, sheet.two_days, sheet.temperature) == (True, "", "f")
    assert days(sheet.brews[0]) == [("01-18", 4.4, 21.1), ("01-25", 3.4, 21.7)]


def test_titles_above_and_totals_below():
    """What stands above the head and a row of totals are no brews."""
    sheet = of_file("title.csv")
    assert [(b.vessel, b.began.day, b.note) for b in sheet.brews] == [("Tall", 1, "nice"), ("Tall", 12, "")]
    assert sheet.wrong == ()


def test_a_list_of_bottles():
    """Bottles are counted by kind, size and flavour, and how many are left."""
    (brew,) = of_file("bottles.csv").brews
    assert [(b.count, b.kind, b.volume_ml, b.flavour, b.left) for b in brew.bottles] == [
        (6, "swing-top", 500, "damson", 2), (2, "crown-cap", 330, "plain", 0),
    ]  # fmt: skip


def test_days_and_times_in_two_columns():
    """A time of day beside its day is that moment, by a clock of 24 hours or of 12."""
    (brew,) = of_file("clock.csv").brews
    assert [(r.at.hour, r.at.minute) for r in brew.readings] == [(8, 30), (20, 30)]


def test_gaps_and_slips():
    """What is not measured is a gap; what is no day or no pH is named with its row, and the rest is read."""
    sheet = of_file("gaps.csv")
    assert [r.ph for r in sheet.brews[0].readings] == [3.6, 3.3]
    assert [(fault.row, fault.why) for fault in sheet.wrong] == [(4, "“someday” is no day that can be read."), (6, "“33” is no pH that can be.")]


def test_a_workbook_of_several_sheets():
    """Sheets of brews, readings, tastes and bottles are put together by the number of the brew."""
    first, second = of_file("sheets.xlsx").brews
    assert (len(first.readings), len(first.tastings), [b.count for b in first.bottles]) == (2, 2, [6, 3])
    assert (len(second.readings), second.readings[0].at.hour, second.litres) == (1, 18, 2.0)


@pytest.mark.parametrize("name", FILES)
def test_the_order_of_columns_means_nothing(name):
    """Turned round, column by column, the same is read; and carried along by a form too."""
    told = FILES[name]
    tables = tables_of(as_workbook(told) if isinstance(told, dict) else told.encode())
    wide = {one.name: max(len(row) for row in one.rows) for one in tables}
    turned = [type(one)(one.name, tuple((*row, *("",) * (wide[one.name] - len(row)))[::-1] for row in one.rows)) for one in tables]
    chosen = tuple(read([one], SheetAsk(), UTC, NOW).columns[0] if any(read_days(one)) else () for one in tables)
    ask = SheetAsk(columns=tuple(some[::-1] for some in chosen)) if all(chosen) else SheetAsk()
    assert read(turned, ask, UTC, NOW).brews == read(tables, SheetAsk(), UTC, NOW).brews
    assert uncarried(carried(tables)) == tables


def read_days(table):
    """Whether a column tells a day."""
    try:
        read([table], SheetAsk(), UTC, NOW)
    except CoreError:
        return []
    return [True]


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04nothing", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", b"x" * 1_500_001, b"a,b\n" + b"long words,1\n" * 4900 * 8, b"[[1]]", b"a\n"])
def test_what_is_no_spreadsheet_is_said_in_a_sentence(content):
    """A damaged, old or huge file is refused in words."""
    with pytest.raises(CoreError, match=r"[.]$"):
        tables_of(content)
