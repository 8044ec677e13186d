"""Open documents: what is written is read back the same, what is malformed leaves no trace, another household makes its own of it."""

import json
import random
from datetime import datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base.facts import BOTTLES, SWEETENERS, TEAS
from kyklos.core.bottles.ingredients import FORMS, INGREDIENTS
from kyklos.demo.household import DEMO_NOW
from kyklos.exchange import documents
from kyklos.exchange.document_parts import (
    BrewDocument,
    ReadingRow,
    RecipeTold,
    SweetenerShare,
    TastingRow,
    TeaShare,
    VesselTold,
)
from kyklos.exchange.documents import (
    KINDS,
    FlavourDocument,
    FlavourPartTold,
    ParkDocument,
    ParkRow,
    PlanDocument,
    RecipeDocument,
    StarterPoured,
)
from kyklos.exchange.strict import DocumentError
from kyklos.store.records import Bottle, BottleType, Brew, Flavour, KeptRecipe, OwnIngredient, Reading, Tasting
from tests.malformed import DOCUMENTS as EXAMPLES
from tests.malformed import malformed_document

names = st.text(st.characters(codec="utf-8", categories=("L", "N", "P", "Zs")), min_size=1, max_size=40).filter(str.strip)
days = st.dates().filter(lambda day: day.year > 1000).map(str)
moments = st.datetimes(datetime(1990, 1, 1), datetime(2150, 12, 31), timezones=st.just(DEMO_NOW.tzinfo)).map(lambda at: at.isoformat())
some = lambda low, high: st.floats(low, high, allow_nan=False)  # noqa: E731
recipes = st.builds(
    RecipeTold,
    tea=st.sampled_from(sorted(TEAS)).map(lambda key: (TeaShare(tea=key, share=1.0),)),
    leaf_g_per_l=some(0, 40),
    sweeteners=st.sampled_from(sorted(SWEETENERS)).map(lambda key: (SweetenerShare(sweetener=key, share=1.0),)),
    sugar_g_per_l=some(0, 200),
    starter_share=st.none() | some(0, 1),
    base=names,
)
vessels = st.builds(VesselTold, name=names, nominal_l=some(1, 50), line_l=some(1, 50), diameter_cm=some(1, 60))
written = st.one_of(
    st.builds(RecipeDocument, written_on=days, name=names, note=names, recipe=recipes),
    st.builds(
        FlavourDocument,
        written_on=days,
        name=names,
        parts=st.lists(
            st.builds(FlavourPartTold, ingredient=st.sampled_from(sorted(INGREDIENTS)), form=st.sampled_from(sorted(FORMS)), g_per_l=some(0.1, 500)), max_size=8
        ).map(tuple),
    ),
    st.builds(
        PlanDocument,
        written_on=days,
        diet=st.sampled_from(["sugar", "jun"]),
        recipe=recipes,
        vessel=vessels,
        litres=some(0.5, 50),
        room_degc=some(0, 40),
        starters=st.lists(st.builds(StarterPoured, name=names, litres=some(0, 5), ph=st.none() | some(2, 5)), max_size=4).map(tuple),
        steps=st.lists(names, max_size=5).map(tuple),
    ),
    st.builds(
        BrewDocument,
        written_on=days,
        culture=names,
        diet=st.sampled_from(["sugar", "jun"]),
        vessel=vessels,
        litres=some(0.5, 50),
        began_at=moments,
        tea=st.just((TeaShare(tea="black", share=1.0),)),
        leaf_g_per_l=some(0, 20),
        sugar_g_per_l=some(0, 150),
        starter_share=some(0, 1),
        readings=st.lists(st.builds(ReadingRow, at=moments, ph=st.none() | some(2, 7)), max_size=4).map(tuple),
        tastings=st.lists(st.builds(TastingRow, at=moments, taster=names, score=st.integers(-3, 3)), max_size=4).map(tuple),
    ),
    st.builds(
        ParkDocument,
        written_on=days,
        bottles=st.lists(
            st.builds(ParkRow, kind=st.sampled_from(sorted(BOTTLES)), volume_ml=some(50, 5000), limit_bar=some(0, 15), owned=st.integers(0, 500)), min_size=1, max_size=5
        ).map(tuple),
    ),
)


@settings(max_examples=150)
@given(written)
def test_what_is_written_is_read_back_the_same(document):
    """As a file and as a code, any document says the same when it is read."""
    assert documents.read(documents.written(document).encode()) == document
    short = documents.for_a_code(document)
    assert short is None or documents.read(short.encode()) == document


@pytest.mark.parametrize("example", EXAMPLES, ids=lambda one: one["format"])
def test_the_examples_in_the_docs_are_read(example):
    """Each kind has an example that is read, and that its schema's required keys are in."""
    found = documents.read(json.dumps(example).encode())
    kind = next(kind for kind, (model, _) in KINDS.items() if isinstance(found, model))
    told = json.loads(documents.schema(kind))
    assert set(told["required"]) <= set(example) <= set(told["properties"])


def test_every_kind_has_an_example():
    """None is left out of the docs."""
    assert {one["format"] for one in EXAMPLES} == {model.model_fields["format"].default for model, _ in KINDS.values()}


def test_malformed_documents_are_refused_in_a_sentence():
    """Cut, twisted, huge: read, or refused by an error of ours; 20,000 of them run with `make bench`."""
    chance = random.Random(31)
    for _ in range(600):
        try:
            documents.read(malformed_document(chance))
        except DocumentError as refused:
            said = str(refused)
            assert said.endswith(".") and len(said) < 300  # noqa: PT018


SHARED = [("recipe", 1), ("flavour", 1), ("brew-day", 1), ("brew", 3), ("bottles", 1)]


@pytest.mark.parametrize(("kind", "number"), SHARED)
def test_what_one_household_shares_another_takes_in(demo_client, client, database, kind, number):
    """Its page offers the file; the other household sees it first, then keeps it; one undo takes it away."""
    assert demo_client.get(f"/data/share/{kind}/{number}").status_code == 200
    text = demo_client.get(f"/data/documents/{kind}/{number}.json").get_data(as_text=True)
    client.application.extensions["kyklos"][1].now = DEMO_NOW
    kinds = (KeptRecipe, Flavour, Brew, Bottle, BottleType, Reading, OwnIngredient)
    count = lambda: [database_count(database, one) for one in kinds]  # noqa: E731
    before = count()
    assert client.post("/data/read", data={"text": text}).status_code == 200
    assert count() == before
    assert client.post("/data/read", data={"text": text, "confirmed": "yes"}).status_code == 303
    assert count() != before
    assert client.post("/undo/1").status_code == 303
    assert count() == before


def database_count(database, kind):
    """How many rows of a kind there are."""
    with database.reader() as session:
        return session.query(kind).count()


def test_a_recipe_takes_this_households_vessel_and_water(demo_client, kitchen):
    """Sent from Quince Yard, it is planned here in this household's jar with its own starter."""
    from kyklos.serving.app import create_app

    mine = create_app(kitchen.database, kitchen.clock, "t", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    text = demo_client.get("/data/documents/recipe/1.json").get_data(as_text=True)
    assert "alkalinity" not in text
    kept = mine.post("/data/read", data={"text": text, "name": "From the ropeworks", "confirmed": "yes"})
    plan = mine.get(kept.headers["Location"])
    assert plan.status_code == 200
    assert "Jar" in plan.text
    assert "From the ropeworks" in mine.get("/brew-day/recipes").text


def test_another_households_jar_and_line_are_not_this_ones(demo_client, demo):
    """A brew of a jar and a line that are known here is kept apart from them, with its readings and tastes."""
    example = json.loads(json.dumps(next(one for one in EXAMPLES if one["format"] == "kyklos-brew")))
    example["readings"].append({"at": "2027-01-13T08:30:00+00:00", "gravity": 1.012})
    assert demo_client.post("/data/read", data={"text": json.dumps(example), "confirmed": "yes"}).status_code == 303
    with demo.reader() as session:
        brew = session.query(Brew).order_by(Brew.id.desc()).first()
        assert (brew.vessel.name, brew.culture.name, brew.tea, brew.starter_ph) == ("Tall jar 2", "Bora 2", "black", 3.1)
        assert [(r.ph, r.celsius, r.gravity) for r in brew.readings] == [(3.3, 22.5, None), (None, None, 1.012)]
        assert [t.score for t in session.query(Tasting).filter_by(liquid_id=brew.liquid_id)] == [-1]
        assert sorted(b.state for b in brew.bottlings[0].bottles) == ["gone"] * 4 + ["warm"] * 2


@pytest.mark.parametrize("text", ["", "{}", "[]", "null", '{"format": "kyklos-recipe", "version": 2}', '{"format": "kyklos-culture-passport"}', "\ud800"])
def test_what_is_no_document_is_said_and_stays_typed(client, text):
    """A sentence, and what was pasted is still there."""
    page = client.post("/data/read", data={"text": text.encode("utf-8", "surrogatepass")})
    assert page.status_code == 422
    assert 'role="alert"' in page.text
    assert client.get("/data/schemas/nothing.json").status_code == 404
    assert client.get("/data/share/bottles/1").status_code == 404


def test_the_whole_record_is_a_page_and_a_pdf(demo_client):
    """What was read, tasted, seen, poured and filled stands on one page and on paper; a stranger's brew is none."""
    page = demo_client.get("/data/record/1").text
    for words in ("14 November 2026", "pH 4.08 by calibrated meter", "Odile", "Quince and bay", "9 × 500 mL"):
        assert words in page
    assert demo_client.get("/data/record/1.pdf").data.startswith(b"%PDF")
    assert demo_client.get("/data/record/999").status_code == 404
    assert demo_client.get("/data/record/999.pdf").status_code == 404


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"began_at": "0001-01-01T00:00:00+00:00"}, "from 1990 to 2150"),
        ({"began_at": "2099-01-01T00:00:00+00:00", "ended_at": None, "readings": [], "tastings": [], "bottles": []}, "in the future"),
        ({"ended_at": "2099-01-01T00:00:00+00:00"}, "in the future"),
        ({"looks": [{"at": "2027-01-12T08:30:00+00:00", "surface": "lawn"}]}, "Choose what you see"),
        ({"litres": 900.0}, "500 L"),
        ({"tea": [{"tea": "nettles", "share": 1.0}]}, "is not known"),
        ({"bottles": [{"at": "2027-01-15T08:00:00+00:00", "count": 1, "kind": "swing-top", "volume_ml": 500, "left": 2}]}, "more bottles are left"),
    ],
    ids=lambda value: str(value)[:30] if isinstance(value, str) else "",
)
def test_what_cannot_be_true_is_refused_whole(demo_client, demo, change, why):
    """A day that no household has seen, one to come, a surface or tea nobody knows: a sentence, and nothing is written."""
    example = {**next(one for one in EXAMPLES if one["format"] == "kyklos-brew"), **change}
    before = database_count(demo, Brew)
    answer = demo_client.post("/data/read", data={"text": json.dumps(example), "confirmed": "yes"})
    assert answer.status_code == 422
    assert why in answer.text
    assert database_count(demo, Brew) == before
