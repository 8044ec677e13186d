"""Every page speaks plainly, in the units of whoever reads it: a walk along the links of the sample household."""

import html
import re
from collections import deque
from pathlib import Path

import pytest

import kyklos
from kyklos.actions.household import ChangeSettings, change_settings
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app

SOURCE = Path(kyklos.__file__).parent
STARTS = (
    "/", "/brew-day/", "/brew-day/first", "/brew-day/tools", "/brew-day/places", "/brew-day/recipes", "/brew-day/clock",
    "/cellar/", "/almanac/", "/almanac/away", "/cultures/", "/cultures/new", "/vessels/", "/vessels/new", "/settings/",
    "/tasters/", "/day-book/", "/instruments/", "/trouble", "/brews/going", "/flavours/", "/cellar/park", "/brews/7/bottling",
    "/brews/7/infuse", "/brews/7/bench", "/cellar/found", "/practice", "/practice/looks",
    "/practice/eye?card=3&seed=5", "/practice/strip?card=1&seed=5", "/practice/burette?card=0&seed=5&drops=9", "/practice/palate?card=1&seed=5",
    "/practice/clock?card=1&seed=5", "/practice/kitchen", "/practice/palate/seen?card=1&seed=5&choice=wait",
    "/practice/clock/seen?card=1&seed=5&choice=leave", "/practice/burette/seen?card=0&seed=5&drops=400",
)  # fmt: skip
MOST_ALIKE = 2  #: So many pages of a kind are looked at.
#: Said once, and never again.
WORST = (
    "want you", "wants you", "meet there", "An empty shelf. Good.", "When vessel and culture are there",
    "Something typed does not hold", "Out of any vessel", "moved nothing", "wait till a lot", "not within forty days",
    "rests badly", "speaks where none", "foretells", "time speak", "Too little to tell", "living backup", "So much of it",
    "It got", "Of which brew", "It is set aside", "They are filled", "It is given", "Tend it", "was likely ",
)  # fmt: skip
US_NEVER = re.compile(r"(?<![A-Za-z\d])\d[\d.,]*\s?(?:L|g/L|°C|bar|cm)(?!\w)|\bg/L\b|°C|, bar\b|\b[Ll]it(?:re|er)s?\b|\bcentimet|\b0\.\d+ in\b|\d\.\d\d in\b")
METRIC_NEVER = re.compile(r"(?<![A-Za-z\d])\d[\d.,]*\s?(?:qt|fl oz|oz|°F|psi)(?!\w)|°F|oz/gal")
FALSE_DECIMAL = re.compile(r"\b\d+\.\d*0 (?:cups?|qt|oz|fl oz|L|mL|tbsp|tsp|bags)\b|\b0(?:\.0)? (?:oz|g|cups)\b(?!/)")
ONE_OF_MANY = re.compile(r"(?<![\d.,])1 (?:bottles|cups|bags|discs|jars|brews|readings|tablespoons|hours|days|tastings)\b")
#: Said by the person: the option that names the units, a recipe's own note, the sizes of sheets, what a laboratory reads.
EXCEPT = (
    "Litres, grams, °C",
    "Quarts, cups, ounces, °F",
    "across the yard",
    "are enough for a litre",
    "labels of",
    "Titrated",
    "titrated",
    "by volume",
)


def pages(client):
    """Look at the pages that links lead to, a few of each kind: address and page."""
    seen, waiting, kinds = set(), deque(STARTS), {}
    while waiting:
        path = waiting.popleft()
        kind = re.sub(r"\d+", "N", path.split("?")[0])
        if path in seen or kinds.get(kind, 0) >= MOST_ALIKE:
            continue
        seen.add(path)
        answer = client.get(path)
        if answer.status_code != 200 or "html" not in answer.content_type:
            continue
        kinds[kind] = kinds.get(kind, 0) + 1
        waiting.extend(html.unescape(link) for link in re.findall(r'href="(/(?!static)[^"#]*)', answer.text))
        yield path, answer.text


def walk(client):
    """The same, in words."""
    return ((path, said_on(page)) for path, page in pages(client))


def said_on(page):
    """All that is read or read out on a page, line by line."""
    page = re.sub(r"(?s)<(script|style|pre)\b.*?</\1>", "", page)
    told = re.findall(r'(?:aria-label|title|placeholder|alt)="([^"]*)"', page)
    text = html.unescape(re.sub(r"<[^>]+>", "\n", page) + "\n" + "\n".join(told))
    return [line.strip() for line in text.splitlines() if line.strip()]


def found(client, *never):
    """Where something stands that should not: page and line."""
    return [
        (path.split("?")[0], line[:120])
        for path, lines in walk(client)
        for line in lines
        if not any(word in line for word in EXCEPT) and any(pattern.search(line) for pattern in never)
    ]


def test_no_us_page_shows_metric_units_or_false_decimals(demo):
    """In quarts, cups and °F: no litre, g/L, °C, bar or cm anywhere, no 1.0 cups, no 1 bottles."""
    with demo.writer() as session:
        names = ("Odile Varga", "Bram Sollie")
        us = ChangeSettings(name="Quince Yard", units="us", zone="Europe/Paris", theme="auto", tasters=names)
        change_settings(session, us, DEMO_NOW)
    client = create_app(demo, lambda: DEMO_NOW, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    assert found(client, US_NEVER, FALSE_DECIMAL, ONE_OF_MANY) == []


def test_a_page_follows_when_the_household_changes_its_units(demo_client, demo):
    """A running application says even a constant in a template anew: none is put into words when it is compiled."""
    assert "from the fridge 5 °C" in demo_client.get("/brew-day/").text
    with demo.writer() as session:
        us = ChangeSettings(name="Quince Yard", units="us", zone="Europe/Paris", theme="auto", tasters=("Odile Varga",))
        change_settings(session, us, DEMO_NOW)
    assert "from the fridge 41 °F" in demo_client.get("/brew-day/").text


EMPTY = re.compile(r"<(ul|ol|dl|tbody|select)[^>]*>\s*</\1>")


def test_no_id_stands_twice_on_a_page_and_no_list_is_empty(demo_client):
    """A label, a hint and a link inside a page lead to one thing; where there is nothing to list there is no list."""
    twice, empty = {}, {}
    for path, page in pages(demo_client):
        ids = re.findall(r'\sid="([^"]+)"', page)
        if len(ids) > len(set(ids)):
            twice[path] = sorted({one for one in ids if ids.count(one) > 1})
        if found_empty := EMPTY.search(page):
            empty[path] = found_empty[0]
    assert (twice, empty) == ({}, {})


def test_where_nothing_is_yet_no_list_is_empty(client, kitchen):
    """Of a household that has a jar and a culture and nothing more."""
    assert {path: page for path, page in pages(client) if EMPTY.search(page)} == {}
    assert "Nothing is spent yet" in client.get("/supply/costs").text


def test_no_metric_page_shows_us_units_or_false_decimals(demo_client):
    """In litres and °C: no quart, ounce, °F or psi; no 1.00 L; cups and spoons only as a help beside grams."""
    assert found(demo_client, METRIC_NEVER, FALSE_DECIMAL, ONE_OF_MANY) == []


@pytest.mark.parametrize("word", WORST)
def test_the_worst_words_stand_nowhere(word):
    """No template, message or data file says it."""
    files = [f for kind in ("*.html", "*.toml", "*.js") for f in SOURCE.rglob(kind) if "vendor" not in str(f)]
    code = [f for f in SOURCE.rglob("*.py") if "migrations" not in str(f)]
    spoken = [line for f in code for line in re.findall(r'"[^"\n]*"', re.sub(r'(?s)""".*?"""', "", f.read_text()))]
    assert not [f.name for f in files if word in f.read_text()]
    assert not [line for line in spoken if word in line]


def test_templates_are_read_by_people_too():
    """No line of a template is longer than 140 letters."""
    files = [f for f in SOURCE.rglob("*.html") if "vendor" not in str(f)]
    assert [f"{f.name}: {n}" for f in files for n, line in enumerate(f.read_text().splitlines(), 1) if len(line) > 140] == []


#: What stands for itself on a page, and so begins a line of its own in a template.
OWN_LINE = (
    "article|button|caption|circle|dd|details|div|dl|dt|fieldset|figcaption|figure|footer|form|h[1-6]|header|input|label|legend|"
    "li|line|link|main|meta|nav|ol|option|p|path|rect|section|select|summary|svg|table|tbody|td|template|text|textarea|th|thead|tr|ul"
)


def test_templates_have_one_element_a_line():
    """Whatever is more than a word in a sentence begins its own line."""
    opens = re.compile(rf"<(?:{OWN_LINE})\b")
    files = [f for f in SOURCE.rglob("*.html") if "vendor" not in str(f)]
    assert [f"{f.name}: {n}" for f in files for n, line in enumerate(f.read_text().splitlines(), 1) if len(opens.findall(line)) > 1] == []
