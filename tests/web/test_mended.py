"""Pages that once said something wrong."""

import re

from .test_pages import PLAN


def why(client, lots):
    """What *why?* answers for the starter of a plan."""
    told = {**PLAN, "lots": lots, "other_l": "", "starter_ph": ""}
    page = client.get("/brew-day/why/starter", query_string=told)
    assert page.status_code == 200
    return re.sub(r"<[^>]+>", " ", page.text)


def test_a_starter_ticked_twice_counts_once(demo_client):
    """A lot that stands twice in the address, as a form that is sent over its own address writes it, is there once."""
    once, twice = why(demo_client, ["6"]), why(demo_client, ["6", "6"])
    assert re.findall(r"[\d.]+ mL", once) == re.findall(r"[\d.]+ mL", twice)
    assert once == twice


def test_a_line_whose_name_is_part_of_another_is_told_of_its_own_brews(demo_client, demo):
    """Whose brew gives good starter is told by the line, not by its name standing in a sentence."""
    from sqlalchemy import text

    with demo.writer() as session, session.begin():
        session.execute(text("UPDATE culture SET name = 'Jar' WHERE name = 'Ponente'"))
    weak = {**PLAN, "culture": "4", "lots": [], "other_kind": "fresh", "other_l": "0.2", "starter_ph": "3.9"}
    page = demo_client.get("/brew-day/", query_string=weak).text
    assert "its liquid is good starter" not in page


def test_a_point_in_us_units_is_no_acid_of_acid(demo_client, demo):
    """The taster's point and its range are told in one unit, once."""
    from sqlalchemy import text

    with demo.writer() as session, session.begin():
        session.execute(text("UPDATE household SET units = 'us'"))
    page = re.sub(r"<[^>]+>", "", demo_client.get("/tasters/").text)
    assert "% acid" in page
    assert "acid of acid" not in page
    assert re.search(r"good from [\d.]+ % acid to [\d.]+ % acid", page)


def test_nothing_is_brewing_is_said_only_then(demo_client):
    """Where jars are working another brew is begun."""
    assert "Nothing is brewing" not in demo_client.get("/begin/").text
    assert "Begin another brew" in demo_client.get("/begin/").text
