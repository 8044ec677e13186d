"""Practice: which card comes when, what the eye, the strip and the burette ask, and how answers are graded."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.base import limit
from kyklos.core.base.errors import UnknownNameError
from kyklos.core.judging.brew_facts import settles
from kyklos.core.judging.observations import OBSERVATIONS, ORDER
from kyklos.core.liquid import acids
from kyklos.core.measuring.titrating import DROP_ML
from kyklos.core.practice import burette, eye, strip
from kyklos.core.practice.boxes import (
    BOX_DAYS,
    BOXES,
    MOST_NEW,
    CardStanding,
    Graded,
    answered,
    anyway,
    comes_again,
    due_cards,
    left_of_round,
    next_card,
    sooner,
)
from kyklos.core.practice.look_pairs import PAIRS, by_verdict, kinds_of, pair_of
from kyklos.drawing.pointing import pointers
from kyklos.drawing.specimen import KINDS, specimen

TODAY = 740_000
DECK = tuple("abcdefgh")


@given(st.lists(st.sampled_from(list(Graded)), max_size=30))
def test_a_card_moves_up_by_right_answers_only_and_falls_to_the_first_by_a_miss(outcomes):
    """Box and due day follow from the answers alone: right goes up one, safe stays, wrong and unsafe go back to the first."""
    box, standing = 1, CardStanding("a")
    for outcome in outcomes:
        standing = answered(standing, outcome, TODAY)
        box = 1 if outcome in {"wrong", "unsafe"} else min(BOXES, box + (outcome == "right"))
        assert standing.box == box
        assert standing.due - TODAY == (0 if outcome == "unsafe" else BOX_DAYS[box - 1])
    assert standing.misses == sum(outcome in {"wrong", "unsafe"} for outcome in outcomes)


standings = st.dictionaries(
    st.sampled_from(DECK),
    st.builds(
        CardStanding, card=st.just(""), box=st.integers(1, 5), due=st.integers(TODAY - 20, TODAY + 20), seen=st.integers(TODAY - 30, TODAY),
        unsafe=st.booleans(), answers=st.integers(1, 9),
    ),
)  # fmt: skip


@given(standings)
def test_what_was_called_safe_and_was_not_comes_first_and_nothing_early(known):
    """The unsafe lead the day; no card comes before its day, none twice; new ones come last, a few a day."""
    known = {card: CardStanding(card, s.box, s.due, s.seen, s.unsafe, s.answers, s.misses) for card, s in known.items()}
    due = due_cards(DECK, known, TODAY)
    old = [card for card in due if card in known]
    assert len(set(due)) == len(due)
    assert set(old) == {card for card, s in known.items() if s.due <= TODAY}
    assert [known[card].unsafe for card in old] == sorted((known[card].unsafe for card in old), reverse=True)
    assert due[: len(old)] == old
    assert len(due) - len(old) <= MOST_NEW
    first = next_card(DECK, known, TODAY)
    assert first == (due[0] if due else None)
    assert len(due) < 2 or next_card(DECK, known, TODAY, first) != first


def test_a_card_taken_for_another_comes_today_and_a_pause_has_an_end():
    """What was taken for something else brings that forward; it is said when the next is due; one may go on all the same."""
    known = {card: CardStanding(card, 3, TODAY + 4, TODAY, False, 3) for card in DECK}
    assert next_card(DECK, known, TODAY) is None
    assert comes_again(DECK, known, TODAY) == 4
    assert comes_again(DECK, {}, TODAY) is None
    assert next_card(DECK, known | {"c": sooner(known["c"], TODAY)}, TODAY) == "c"
    assert anyway(DECK, known | {"d": CardStanding("d", 1, TODAY + 1, TODAY)}) == "d"


VERDICTS = {
    "disc": "carry on", "skin": "carry on", "jelly": "carry on", "holed": "carry on", "strings": "carry on", "clouds": "carry on",
    "bare": "carry on", "tilted": "carry on", "froth": "carry on", "film-yeast": "watch", "lifted": "watch", "dry": "watch", "bare-late": "watch",
    "coloured-pink": "hold", "coloured-black": "hold", "odd": "hold", "smell-solvent": "hold", "froth-bad": "hold", "risen": "hold",
    "fuzzy-green": "discard", "fuzzy-white": "discard", "fuzzy-black": "discard", "eels": "discard", "insects": "discard", "eggs": "discard",
    "smell-rotten": "discard", "too-slow": "discard", "film-returned": "discard",
}  # fmt: skip


@pytest.mark.parametrize("key", eye.DECK)
def test_each_card_of_the_eye_has_the_verdict_of_the_handbook_whatever_its_seed(key):
    """Told by hand: what each card calls for; by any seed and in any box, the rules say the same."""
    for seed in range(25):
        for box in (1, 3, 5):
            question = eye.posed(key, seed, box)
            assert question.verdict.word == VERDICTS[key], (seed, box, question.verdict.reasons)
            assert question.card.sign in question.signs
            assert len(set(question.signs)) == 4
    assert question == eye.posed(key, seed, box)


def test_everything_that_can_be_seen_or_smelled_is_practised_and_drawn():
    """Every surface, sign and grave smell stands on a card; every card is drawn; what it is taken for has a name."""
    signs = {card.sign for card in eye.CARDS.values()}
    assert {key for key, seen in OBSERVATIONS.items() if seen.group != "smell" or seen.verdict != "carry on"} <= signs
    for card in eye.CARDS.values():
        assert card.draws in KINDS
        assert card.sign not in card.near
        assert all(eye.sign_name(sign) for sign in card.near)
        answer = OBSERVATIONS[card.sign].name.lower() if card.sign in OBSERVATIONS else "ph"
        assert answer not in card.seen.lower()  # the drawing in words gives nothing away
        assert not {"mould", "film yeast", "eels", "flies", "eggs"} & set(card.seen.lower().replace(",", "").replace(".", "").split())


@pytest.mark.parametrize("key", eye.DECK)
@pytest.mark.parametrize("word", [str(word) for word in ORDER])
def test_calling_safe_what_must_be_held_is_unsafe_and_too_much_care_is_not(key, word):
    """For every card and word: unsafe only below a hold that is needed, right only for the word, one step more is safe."""
    question = eye.posed(key, 4)
    truth, said = ([str(w) for w in ORDER].index(w) for w in (VERDICTS[key], word))
    outcome = eye.graded(question, word, question.card.sign)
    assert (outcome == Graded.RIGHT) == (said == truth)
    assert (outcome == Graded.UNSAFE) == (said < 2 <= truth)
    if said == truth + 1:
        assert outcome == Graded.SAFE
    assert eye.says(question, word, question.card.sign)
    assert eye.graded(question, VERDICTS[key], question.card.near[0]) == Graded.SAFE


def test_a_later_box_is_harder_to_see():
    """In the last box there is less of it, and more often poor light."""
    easy, hard = ([eye.posed("fuzzy-white", seed, box) for seed in range(60)] for box in (1, 5))
    assert sum(q.coverage for q in hard) < 0.5 * sum(q.coverage for q in easy)
    assert sum(q.light != "daylight" for q in hard) > sum(q.light != "daylight" for q in easy)


@pytest.mark.parametrize("pair", PAIRS.values(), ids=list(PAIRS))
def test_each_pair_is_told_apart_by_parts_that_its_drawings_show(pair):
    """Every arrow has something to point at, on whatever seed; its number stands outside the rim; the two differ in kind."""
    for seed in (1, 4, 9):
        for card, tells in ((pair.one, pair.one_tells), (pair.other, pair.other_tells)):
            drawn = specimen(eye.card_of(card).draws, 9, 0.6, seed)
            arrows = pointers(drawn, tells)
            assert [arrow.number for arrow in arrows] == list(range(1, len(tells) + 1)), (card, seed)
            assert all(((a.x - 110) ** 2 + (a.y - 110) ** 2) ** 0.5 > 110 for a in arrows)
    assert pair_of(*pair.signs) is not None
    assert len(pair.signs) == 2


def test_the_guide_shows_every_sign_once_the_grave_first():
    """All that can be seen or smelled, by what follows; what is seen has a drawing."""
    groups = by_verdict()
    assert [word for word, _ in groups] == ["discard", "hold", "watch", "carry on"]
    assert sorted(sign.key for _, signs in groups for sign in signs) == sorted(OBSERVATIONS)
    assert all(kinds_of(sign.key) for _, signs in groups for sign in signs if sign.group != "smell")


@pytest.mark.parametrize("field", strip.CHART_PH)
def test_a_strip_says_what_the_rules_let_it_say(field):
    """Yes and no only where a strip settles the limit of 4.2."""
    said = strip.said_by_strip(field)
    assert (said != strip.CANNOT) == settles(field, "strip", limit("safe_ph"))
    assert said == strip.CANNOT or (said == strip.YES) == (field <= 4.2)


@given(st.sampled_from(strip.DECK), st.integers(0, 999), st.sampled_from(strip.CHART_PH), st.sampled_from(strip.ANSWERS))
def test_reading_a_strip_too_boldly_is_unsafe_and_doubt_never_is(key, seed, field, answer):
    """Yes where it is not known to be yes is unsafe; saying that one cannot tell never is; right needs the field, too."""
    q = strip.posed(key, seed)
    outcome = strip.graded(q, field, answer)
    assert (outcome == Graded.UNSAFE) == (answer == "yes" != q.answer)
    if outcome == Graded.RIGHT:
        assert answer == q.answer
        assert abs(field - q.ph) < 0.5
    assert all(strip.says(q, field, answer))


def test_near_the_limit_every_strip_cannot_tell():
    """From 3.9 to 4.4 nobody may read yes or no from a strip."""
    for key in ("just-below", "just-above"):
        answers = {strip.posed(key, seed).answer for seed in range(50) if 3.9 <= strip.posed(key, seed).ph <= 4.4}
        assert answers == {strip.CANNOT}


@pytest.mark.parametrize("key", burette.DECK)
def test_the_first_pink_that_stays_is_the_end_point_of_the_acid_model(key):
    """One drop before it the sample is below pH 8.2, at it it is not; the drops give its acidity to within two."""
    for seed in range(6):
        q = burette.posed(key, seed)
        before, at = (burette.ph_after(q.ta_g_per_l, q.card.sample_ml, q.end_drops + more) for more in (-1, 0))
        assert before < acids.END_POINT_PH <= at
        told = acids.titration(q.end_drops * DROP_ML, burette.NORMALITY, q.card.sample_ml)
        assert told == pytest.approx(q.ta_g_per_l, abs=2 * acids.titration(DROP_ML, burette.NORMALITY, q.card.sample_ml))
        assert burette.flask(q, q.end_drops - 1).pink == 0 < burette.flask(q, q.end_drops).pink


def test_drops_too_many_take_starter_from_the_jar_and_start_it_too_high():
    """The more drops past the end, the less starter is planned and the higher the jar starts; grossly past is unsafe."""
    q = burette.posed("usual", 3)
    reads = [burette.read_off(q, q.end_drops + more) for more in (0, 5, 40, 80)]
    assert [read.planned_l for read in reads] == sorted((read.planned_l for read in reads), reverse=True)
    assert [read.starts_at for read in reads] == sorted(read.starts_at for read in reads)
    assert reads[0].starts_at == pytest.approx(4.2, abs=0.02)
    assert [read.outcome for read in reads] == ["right", "wrong", "unsafe", "unsafe"]
    assert burette.read_off(q, q.end_drops - 2).outcome == "safe"
    assert burette.read_off(q, 10).outcome == "wrong"


def test_an_unknown_card_is_refused_in_every_deck():
    """No deck poses a card that it does not have."""
    for posed in (eye.posed, strip.posed, burette.posed):
        with pytest.raises(UnknownNameError):
            posed("no such card", 1)


@given(standings)
def test_a_round_is_six_cards_and_what_was_not_safe(known):
    """However much is due, a day's round ends after six, but never with something unsafe waiting."""
    known = {card: CardStanding(card, s.box, s.due, s.seen, s.unsafe, s.answers, s.misses) for card, s in known.items()}
    left, due = left_of_round(DECK, known, TODAY), due_cards(DECK, known, TODAY)
    done = sum(s.seen == TODAY for s in known.values())
    unsafe = sum(card in known and known[card].unsafe for card in due)
    assert unsafe <= left <= len(due)
    assert left + done <= max(6, done + unsafe)
    assert left == len(due) or left + done >= 6
