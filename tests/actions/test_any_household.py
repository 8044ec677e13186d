"""What holds whatever a household did: made-up weeks of splitting, keeping, filling, tasting, then mould in one jar."""

import contextlib
from random import Random

import pytest

from kyklos.actions import household
from kyklos.actions.base import ConflictError, RefusedError
from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import happenings, pitching, readings
from kyklos.actions.cultures import giving, keeping
from kyklos.core.base.kinds import BrewStatus
from kyklos.core.bottles.advice import BottleStep
from kyklos.core.liquid.ferment import Recipe
from kyklos.reckon.bottles import cellar, drinking
from kyklos.reckon.brewing.brew_days import free_discs, sound_lots
from kyklos.reckon.cultures import quarantine, spoilage
from kyklos.reckon.forecast import palates
from kyklos.reckon.judging import attention
from kyklos.reckon.judging import verdicts as judging
from kyklos.serving.app import create_app
from kyklos.store.read import culture_queries
from kyklos.store.records import Bottle, Brew, Culture, Disc, StarterLot

SEEDS = range(8)
JARS = 4


class Weeks:
    """A kitchen of four jars in which something or other is done."""

    def __init__(self, kitchen, seed):
        self.kitchen, self.random, self.mixed = kitchen, Random(seed), []
        self.vessels = [kitchen.vessel] + [self._jar(number) for number in range(2, JARS + 1)]
        self.taught = {}
        self.begin()

    def _jar(self, number):
        told = {"kind": "jar", "nominal_l": 4, "usable_l": 3.5, "diameter_cm": 15, "material": "glass", "tapped": False}
        return self.kitchen.do(household.add_vessel, household.AddVessel(name=f"Jar {number}", place_id=1, **told)).made["vessel"]

    def read(self):
        """A session that knows what time it is."""
        session = self.kitchen.database.reader()
        session.context.now = self.kitchen.clock.now
        return session

    def of(self, model, *where):
        """Numbers of what there is."""
        with self.read() as session:
            return [row.id for row in session.query(model).filter(*where).order_by(model.id)]

    def living(self):
        """Brews that stand."""
        return self.of(Brew, Brew.ended_at.is_(None))

    def begin(self):
        """A new brew from some starter, with a disc where one is free."""
        with self.read() as session:
            full = {brew.vessel_id for brew in session.query(Brew).filter(Brew.ended_at.is_(None))}
            lots = [lot.id for lot in sound_lots(session) if lot.left_l > 0.2]
            discs = [disc.id for disc in free_discs(session, culture_queries.cultures(session))]
        free = [number for number in self.vessels if number not in full]
        if free and lots:
            ask = pitching.PitchBrew(
                vessel_id=free[0], culture_id=self.kitchen.culture, starter_lot_id=self.random.choice(lots), disc_id=discs[0] if discs else None,
                recipe=Recipe(starter_ph=3.0, starter_fraction=0.06), starter_instrument="meter", final_l=3.0, plan={}, measured_ph=4.1,
            )  # fmt: skip
            self.kitchen.do(pitching.pitch_brew, ask)

    def split(self):
        """Half of a brew into another jar."""
        with self.read() as session:
            full = {brew.vessel_id for brew in session.query(Brew).filter(Brew.ended_at.is_(None))}
        free = [number for number in self.vessels if number not in full]
        if free and (brews := self.living()):
            brew = self.random.choice(brews)
            made = self.kitchen.do(happenings.split, happenings.Split(brew_id=brew, vessel_id=free[0], litres=0.8)).made
            self.mixed.append((self.kitchen.clock(), brew, made["brew"]))

    def keep(self):
        """Starter kept from a brew."""
        if brews := self.living():
            self.kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=self.random.choice(brews), litres=0.4))

    def measure(self):
        """A pH as a finished brew has it."""
        for brew in self.living():
            self.kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=round(self.random.uniform(3.2, 3.6), 2)))

    def taste(self):
        """Somebody's word."""
        if brews := self.living():
            self.kitchen.do(readings.log_tasting, readings.LogTasting(brew_id=self.random.choice(brews), taster_id=1, score=self.random.randint(-2, 2)))

    def fill(self):
        """Two bottles."""
        if brews := self.living():
            told = {"kind": "swing-top", "count": 2, "volume_ml": 330, "headspace_fraction": 0.05}
            self.kitchen.do(filling.fill_bottles, filling.FillBottles(brew_id=self.random.choice(brews), **told))

    def end(self):
        """An empty jar."""
        if brews := self.living():
            self.kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brews[0]))

    def look(self):
        """Nothing to be seen."""
        if brews := self.living():
            self.kitchen.do(readings.log_look, readings.LogLook(brew_id=self.random.choice(brews), surface="skin"))

    def go_on(self, turns):
        """Do one thing after another; what a rule refuses is left."""
        for _ in range(turns):
            deed = self.random.choice([self.begin, self.begin, self.split, self.split, self.keep, self.measure, self.taste, self.fill, self.end, self.look])
            with contextlib.suppress(RefusedError, ConflictError):
                deed()
            self.same_as_taught(deed)
            self.kitchen.clock.turn(self.random.uniform(0.2, 2.5))

    def same_as_taught(self, deed):
        """Hold what earlier tastings taught of ended brews against what they teach now."""
        with self.read() as session:
            for brew in session.query(Brew).filter(Brew.ended_at.is_not(None)):
                told = [number for row in palates.tasted_of(brew) for number in row]
                before = self.taught.setdefault(brew.id, told)
                assert told == pytest.approx(before, abs=1e-9), deed.__name__


@pytest.mark.parametrize("seed", SEEDS)
def test_what_is_strongly_linked_to_mould_is_nowhere_offered(kitchen, seed):
    """Whatever was split, kept, filled before: it is no starter, no disc, no spare, not bottled, given or opened; all pages say one thing."""
    weeks = Weeks(kitchen, seed)
    weeks.go_on(16)
    if not weeks.living():
        weeks.begin()
    spoiled = weeks.random.choice(weeks.living())
    kitchen.clock.turn(((11 - kitchen.clock().hour) % 24) / 24)  # no quiet hour
    kitchen.do(readings.log_look, readings.LogLook(brew_id=spoiled, surface="fuzzy"))
    now = kitchen.clock()
    with weeks.read() as session:
        strong = spoilage.strongly(session, now)
        assert not {("lot", lot.id) for lot in sound_lots(session)} & strong
        assert not {("disc", disc.id) for disc in free_discs(session, culture_queries.cultures(session))} & strong
        assert not set(quarantine.backups_of(session, session.get(Culture, kitchen.culture), now).living) & strong
        lately = [pair for at, *pair in weeks.mixed if (now - at).days < 1 and spoiled in pair]
        for other in {number for pair in lately for number in pair if session.get(Brew, number).ended_at is None} - {spoiled}:
            assert ("brew", other) in strong
        held = [number for kind, number in strong if kind == "brew" and session.get(Brew, number).ended_at is None]
        for number in {spoiled, *held}:
            brew = session.get(Brew, number)
            known = attention.attention_of(session, brew, now)
            assert known.on_hold or known.lost
            assert judging.verdict_of(brew, now, judging.facts_of(brew, now)).word in {"hold", "discard"}
        groups = cellar.alike_in(session.query(Bottle).filter(Bottle.gone_at.is_(None)).all(), now)
        told = spoilage.bottles_held(session, now)
        for group in groups:
            assert (group.advice.step is BottleStep.SPOILED) == (group.first.bottling_id in told)
        kept = {bottle.id for group in groups for bottle in group.bottles if group.advice.step is BottleStep.SPOILED}
        tonight = drinking.tonight(session, [group for group in groups if group.first.state == "cold"], now)
        assert not {bottle.id for group, _ in tonight for bottle in group.bottles} & kept
        lots = [number for kind, number in strong if kind == "lot" and session.get(StarterLot, number).left_l > 0]
        discs = [number for kind, number in strong if kind == "disc" and session.get(Disc, number).ended_at is None]
    tries = [(filling.fill_bottles, filling.FillBottles(brew_id=n, kind="swing-top", count=1, volume_ml=330, headspace_fraction=0.05)) for n in {spoiled, *held}]
    tries += [(giving.give_away, giving.GiveAway(culture_id=kitchen.culture, lot_id=n, litres=0.05)) for n in lots]
    tries += [(keeping.merge_starters, keeping.MergeStarters(lot_ids=(n, kitchen.lot))) for n in lots if n != kitchen.lot]
    tries += [(giving.give_away, giving.GiveAway(culture_id=kitchen.culture, disc_id=n)) for n in discs]
    for run, ask in tries:
        with pytest.raises(RefusedError):
            kitchen.do(run, ask)
    client = create_app(kitchen.database, kitchen.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    for path in ("/cellar/", "/notices") if kept else ():
        assert "Do not drink or give it" in client.get(path).get_data(as_text=True), path
    with weeks.read() as session:
        assert session.get(Brew, spoiled).status != BrewStatus.HARVESTED
