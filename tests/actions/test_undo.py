"""Every action can be undone: afterwards the household stands as it did before."""

from dataclasses import replace
from datetime import UTC, timedelta

import pytest
from sqlalchemy import select

from kyklos.actions import beginning as bg
from kyklos.actions import brew_days as d
from kyklos.actions import calendar as c
from kyklos.actions import devices as dv
from kyklos.actions import experiments as ex
from kyklos.actions import household as k
from kyklos.actions import importing as im
from kyklos.actions import kitchen_days as kd
from kyklos.actions import notebook as nb
from kyklos.actions import notes, pairing, timers
from kyklos.actions import quick as q
from kyklos.actions import supply as su
from kyklos.actions import tapped as ta
from kyklos.actions.base import ACTIONS, ConflictError
from kyklos.actions.bottles import cellar as ce
from kyklos.actions.bottles import filling as fi
from kyklos.actions.bottles import flavour_book as fl
from kyklos.actions.bottles import harvest as h
from kyklos.actions.bottles import infusing as nf
from kyklos.actions.bottles import owning
from kyklos.actions.bottles import scoring as sc
from kyklos.actions.brewing import blind as bt
from kyklos.actions.brewing import calibrating as cb
from kyklos.actions.brewing import correcting as co
from kyklos.actions.brewing import happenings as hp
from kyklos.actions.brewing import pitching as p
from kyklos.actions.brewing import put_right as pr
from kyklos.actions.brewing import readings as b
from kyklos.actions.brewing import recipes as r
from kyklos.actions.brewing import taking_over as to
from kyklos.actions.brewing import watching as w
from kyklos.actions.cultures import discs as di
from kyklos.actions.cultures import giving as gi
from kyklos.actions.cultures import keeping as ke
from kyklos.actions.cultures import leading as le
from kyklos.actions.cultures import tracing as tr
from kyklos.actions.trying import StartExperiment
from kyklos.actions.undo import Undo, undo
from kyklos.core.bottles.flavouring import part
from kyklos.core.brewing.day_walk import DayWalk, StepNeed, WalkStep
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.notebook.lessons import Applies
from kyklos.core.sheets.told import BrewTold, ReadingTold
from kyklos.demo.watched import picture
from kyklos.exchange.document_parts import RecipeTold, SweetenerShare, TeaShare
from kyklos.exchange.documents import RecipeDocument
from kyklos.exchange.lines import ReceivePassport, receive_passport
from kyklos.exchange.passport import Passport
from kyklos.exchange.taking_in import TakeDocument
from kyklos.reckon.bottles import harvests
from kyklos.store.file.journal import SENT
from kyklos.store.read import queries
from kyklos.store.records import Change, Experiment
from kyklos.store.records.base import Base

VESSEL = {
    "name": "Crock",
    "kind": "crock",
    "nominal_l": 8,
    "usable_l": 7,
    "diameter_cm": 21,
    "material": "stoneware",
    "tapped": True,
    "new_place": "Pantry",
    "new_place_c": 18,
}


TAP = {"tap_made_of": "stainless", "tested": True, "heel_l": 0.4}


def tap(kitchen):
    """Give the kitchen's jar a tap."""
    return kitchen.do(ta.set_up_tap, ta.SetUpTapped(vessel_id=kitchen.vessel, **TAP))


def runs(kitchen):
    """A brew that is drawn from and topped up in the kitchen's jar; gives its number."""
    tap(kitchen)
    brew = kitchen.ready()
    kitchen.do(ta.run_on, ta.RunOn(brew_id=brew))
    return brew


def pitch_ask(kitchen):
    """A brew for the kitchen's jar."""
    return p.PitchBrew(
        vessel_id=kitchen.vessel,
        culture_id=kitchen.culture,
        starter_lot_id=kitchen.lot,
        disc_id=kitchen.disc,
        recipe=Recipe(),
        starter_instrument="meter",
        final_l=3.5,
        plan={},
        measured_ph=4.0,
        celsius=24,
    )


def kept(kitchen):
    """A kept recipe's number."""
    return kitchen.do(r.keep_recipe, r.KeepRecipe(name="Black", card=RecipeCard())).made["recipe"]


def day_ask(kitchen, **more):
    """A brew day for the kitchen's jar."""
    starter = StarterTold(key=f"lot-{kitchen.lot}", name="Bora", left_l=1.0, ph=3.0, instrument="meter")
    ask = PlanAsk(card=RecipeCard(), vessel=VesselFacts(line_l=3.5), culture="Bora", starters=(starter,), **more)
    return d.StartBrewDay(vessel_id=kitchen.vessel, culture_id=kitchen.culture, disc_id=kitchen.disc, ask=ask)


def begun(kitchen, **more):
    """A running brew day's number."""
    return kitchen.do(d.start_brew_day, day_ask(kitchen, **more)).made["brew_day"]


def meter(kitchen):
    """A meter's number."""
    return kitchen.do(w.add_instrument, w.AddInstrument(kind="meter")).made["instrument"]


def waiting(kitchen, kind="thermometer"):
    """The code of a device that waits to be paired."""
    with kitchen.database.writer() as session:
        return pairing.ask_pairing(session, "Probe", kind, "", "here", kitchen.clock()).code


def device(kitchen, kind="thermometer"):
    """A paired device's number."""
    code = waiting(kitchen, kind)
    return kitchen.do(dv.approve_pairing, dv.ApprovePairing(code=code, vessel_id=kitchen.vessel)).made["device"]


def struck(kitchen):
    """A reading that lies in the bin."""
    kitchen.ready()
    kitchen.do(co.strike, co.Strike(kind="reading", number=1))
    return co.Strike(kind="reading", number=1)


RHUBARB = fl.KeepFlavour(name="Rhubarb", parts=(fl.PartTold("rhubarb", 60.0), fl.PartTold("cardamom", 1.0)))


def flavour(kitchen):
    """A kept flavour's number."""
    return kitchen.do(fl.keep_flavour, RHUBARB).made["flavour"]


def own_kind(kitchen):
    """A kind of bottle that is owned; gives its number."""
    kitchen.do(owning.own_bottles, owning.OwnBottles(line="4 swing-top 500 mL"))
    return 1


def emptied(kitchen):
    """A kind of bottle of which one waits to be washed."""
    own_kind(kitchen)
    kitchen.filled()
    kitchen.clock.turn(1)
    kitchen.do(ce.open_bottle, ce.OpenBottle(bottle_id=1, hiss=2))
    return 1


def reserved(kitchen):
    """A ripe brew of which starter is set aside."""
    brew = kitchen.ready()
    kitchen.do(h.reserve_starter, h.ReserveStarter(brew_id=brew, litres=0.5))
    return brew


def jar(kitchen):
    """A jar that takes flavour; gives its number."""
    ask = nf.StartInfusion(brew_id=reserved(kitchen), litres=0.8, parts=(fl.PartTold("mint", 5.0),), name="Mint")
    return kitchen.do(nf.start_infusion, ask).made["infusion"]


def bench(kitchen):
    """A trial with one step; gives its number."""
    number = kitchen.do(nf.start_trial, nf.StartTrial(brew_id=kitchen.ready(), ingredient="apple-juice")).made["trial"]
    kitchen.do(nf.taste_step, nf.TasteStep(trial_id=number, grams=10, score=0))
    return number


def plan(kitchen):
    """A plan of two flavours in two bottles."""
    own_kind(kitchen)
    brew = reserved(kitchen)
    told = harvests.Filling(kind="swing-top", headspace_fraction=0.04, made_of=(part("damson", 60),))
    box = fi.Box(1, 0.04)
    return fi.FillPlan(
        brew_id=brew,
        groups=(
            fi.Group(filling=told, boxes=(box,), name="Damson"),
            fi.Group(filling=replace(told, made_of=()), boxes=(box,), name="Plain"),
        ),
    )


def compared(kitchen):
    """Two fillings side by side, one of them scored; gives the comparison's number."""
    brew = kitchen.filled(count=1)
    ask = fi.FillBottles(brew_id=brew, kind="swing-top", count=1, volume_ml=500, headspace_fraction=0.04)
    kitchen.do(fi.fill_bottles, ask)
    number = kitchen.do(sc.start_comparison, sc.StartComparison(bottling_ids=(1, 2), seed=1)).made["comparison"]
    kitchen.do(sc.score_bottle, sc.ScoreBottle(taster_id=1, bottling_id=1, liked=4, comparison_id=number))
    return number


def overruled(kitchen):
    """A brew that its brewer holds."""
    brew = kitchen.ready()
    kitchen.do(w.overrule_verdict, w.OverruleVerdict(brew_id=brew, word="hold"))
    return brew


def hotel(kitchen):
    """A hotel's number."""
    return kitchen.do(k.add_vessel, k.AddVessel(**{**VESSEL, "kind": "hotel", "name": "Hotel"})).made["vessel"]


def parted(kitchen):
    """A second disc's number."""
    return kitchen.do(di.part_disc, di.PartDisc(disc_id=kitchen.disc)).made["disc"]


def joined(kitchen):
    """A disc that lies in a brew besides its own."""
    disc = parted(kitchen)
    kitchen.do(di.join_disc, di.JoinDisc(disc_id=disc, brew_id=kitchen.ready()))
    return disc


def dried(kitchen):
    """A dried disc."""
    kitchen.do(di.end_disc, di.EndDisc(disc_id=kitchen.disc, ended_as="dried"))
    return kitchen.disc


def housed(kitchen):
    """A hotel in which a disc lives."""
    number = hotel(kitchen)
    kitchen.do(di.house_disc, di.HouseDisc(disc_id=kitchen.disc, vessel_id=number))
    return number


def received(kitchen):
    """Something that came from a friend."""
    return kitchen.do(gi.receive, gi.Receive(culture_id=kitchen.culture, disc=True, litres=0.2)).made


def cut(kitchen):
    """A closed way's number."""
    kitchen.ready()
    ask = tr.CutWay(source=("disc", kitchen.disc), target=("brew", 1), reason="Rinsed")
    return kitchen.do(tr.cut_way, ask).made["cut"]


def two_brews(kitchen):
    """Two living brews in two jars."""
    first = kitchen.ready()
    jar = kitchen.do(k.add_vessel, k.AddVessel(**VESSEL)).made["vessel"]
    ask = replace(pitch_ask(kitchen), vessel_id=jar, starter_lot_id=None, disc_id=None)
    return first, kitchen.do(p.pitch_brew, ask).made["brew"]


def begun_blind(kitchen):
    """A blind tasting's number."""
    return kitchen.do(bt.start_blind, bt.StartBlind(brew_ids=two_brews(kitchen))).made["blind"]


def filled_blind(kitchen):
    """A blind tasting with a sheet."""
    number = begun_blind(kitchen)
    kitchen.do(bt.fill_sheet, bt.FillSheet(blind_id=number, taster_id=1, letter="A", score=1))
    return number


def moved(kitchen):
    """A place to which the kitchen's jar was moved, and since when."""
    place = kitchen.do(k.add_place, k.AddPlace(name="Pantry", celsius=16)).made["place"]
    kitchen.clock.turn(3)
    kitchen.do(pr.move_vessel, pr.MoveVessel(vessel_id=kitchen.vessel, place_id=place))
    kitchen.clock.turn(1)
    return pr.CorrectMove(standing_id=2, since=kitchen.clock() - timedelta(days=2))


def began_otherwise(kitchen):
    """A brew that began a day later than was written down."""
    brew = kitchen.ready()
    return pr.CorrectBrew(
        brew_id=brew, pitched_at=kitchen.clock() - timedelta(days=7), start_doubt_days=1.0, litres=3.4, tea="green",
        leaf_g_per_l=6, sugar_g_per_l=60, starter_ph=3.1, vessel_id=kitchen.vessel,
    )  # fmt: skip


def free_jar(kitchen):
    """A second jar's number."""
    return kitchen.do(k.add_vessel, k.AddVessel(**VESSEL)).made["vessel"]


def joined_brews(kitchen):
    """Two brews that may be one: a part of the first was drunk."""
    first, second = two_brews(kitchen)
    kitchen.do(hp.take_out, hp.TakeOut(brew_id=first, leaves="drunk", litres=1.0))
    return hp.Join(brew_id=first, into_id=second)


SUGAR = {"kind": "sweetener", "key": "sugar", "amount": 1000.0}


def bought(kitchen):
    """A kilo of sugar bought; gives the purchase's number."""
    return kitchen.do(su.buy, su.Buy(**SUGAR, price=1.49)).made["purchase"]


def listed(kitchen):
    """Sugar on the list; gives its line's number."""
    return kitchen.do(su.put_on_list, su.PutOnList(**SUGAR)).made["item"]


def taught(kitchen):
    """A lesson that is kept; gives its number."""
    return kitchen.do(nb.keep_lesson, nb.KeepLesson(text="Chill it sooner.", applies=Applies(vessel="Jar"))).made["lesson"]


def tried(kitchen):
    """Start an experiment of two brews; gives its number."""
    first, second = two_brews(kitchen)
    return kitchen.do(ex.start_experiment, StartExperiment(question="Quicker?", changed="the jar", kind="brew", plain=(first,), other=(second,), seed=1)).made["experiment"]


def glass_of(kitchen, experiment):
    """Read the number of an experiment's first glass."""
    with kitchen.database.reader() as session:
        return queries.get(session, Experiment, experiment).labels[0]


def scored(kitchen):
    """An experiment of which one glass was scored; gives its number."""
    number = tried(kitchen)
    kitchen.do(ex.score_arm, ex.ScoreArm(experiment_id=number, taster_id=1, label=glass_of(kitchen, number), liked=3))
    return number


A_WALK = DayWalk((WalkStep("Jar: harvest", "Taste", 5), WalkStep("Jar: start", "Cover", 5, needs=(StepNeed(0, True),))), 1, (("Jar", 1),))


def walking(x, done=0):
    """Begin a day in the kitchen, with so many steps done."""
    number = x.do(kd.start_kitchen_day, kd.StartKitchenDay(walk=A_WALK)).made["day"]
    for step in range(done):
        x.do(kd.finish_step, kd.FinishStep(day_id=number, step=step))
    return number


DOCUMENT = RecipeDocument(
    written_on="2027-02-18",
    name="From next door",
    recipe=RecipeTold(
        tea=(TeaShare(tea="black", share=1.0),), leaf_g_per_l=5.0, sweeteners=(SweetenerShare(sweetener="sugar", share=1.0),), sugar_g_per_l=58.0
    ),
)
WALK = {
    "take_out": lambda x: hp.TakeOut(brew_id=x.ready(), leaves="drunk", litres=0.25),
    "put_into": lambda x: hp.PutIn(brew_id=x.ready(), enters="sweet tea", litres=0.3),
    "pour_over": lambda x: hp.PourOver(brew_id=x.ready(), vessel_id=free_jar(x)),
    "split": lambda x: hp.Split(brew_id=x.ready(), vessel_id=free_jar(x), litres=1.5),
    "join": joined_brews,
    "correct_brew": began_otherwise,
    "move_vessel": lambda x: pr.MoveVessel(
        vessel_id=x.vessel, place_id=x.do(k.add_place, k.AddPlace(name="P", celsius=16)).made["place"]
    ),
    "correct_move": moved,
    "take_over": lambda x: to.TakeOver(
        days_ago=9, doubt_days=2, litres=3.0, new_vessel="Tall jar", culture_id=x.culture, ph=3.5, taster_id=1, score=1
    ),
    "set_up": lambda x: bg.SetUpHousehold(
        jar="First jar", jar_l=4.0, place="A shelf", place_c=21.0, culture="Gift", diet="sugar", origin="received", liquid_l=0.25
    ),
    "change_settings": lambda x: k.ChangeSettings(name="New", units="us", zone="UTC", theme="dark", tasters=("Cleo",)),
    "add_place": lambda x: k.AddPlace(name="Cellar", celsius=14),
    "change_place": lambda x: k.ChangePlace(place_id=x.place, name="Warm shelf", celsius=26),
    "add_vessel": lambda x: k.AddVessel(**VESSEL),
    "change_vessel": lambda x: k.ChangeVessel(vessel_id=x.vessel, **VESSEL),
    "add_culture": lambda x: k.AddCulture(name="Meltemi", diet="jun", origin="received", starter_l=0.5),
    "pitch_brew": pitch_ask,
    "keep_recipe": lambda x: r.KeepRecipe(name="Black", card=RecipeCard()),
    "change_recipe": lambda x: r.ChangeRecipe(recipe_id=kept(x), name="Blacker", card=RecipeCard(leaf_g_per_l=6)),
    "drop_recipe": lambda x: r.DropRecipe(recipe_id=kept(x)),
    "add_tool": lambda x: r.AddTool(kind="pot", litres=3),
    "drop_tool": lambda x: r.DropTool(tool_id=x.do(r.add_tool, r.AddTool(kind="scale")).made["tool"]),
    "start_brew_day": day_ask,
    "go_to_step": lambda x: d.GoToStep(day_id=begun(x), step=2, facts={}),
    "start_timer": lambda x: timers.StartTimer(day_id=begun(x), step="steep", name="Steep", minutes=12),
    "stop_timer": lambda x: timers.StopTimer(
        timer_id=x.do(timers.start_timer, timers.StartTimer(day_id=begun(x), step="steep", name="S", minutes=9)).made["timer"]
    ),
    "start_kitchen_day": lambda x: kd.StartKitchenDay(walk=A_WALK),
    "finish_step": lambda x: kd.FinishStep(day_id=walking(x), step=0),
    "step_back": lambda x: kd.StepBack(day_id=walking(x, done=1)),
    "end_kitchen_day": lambda x: kd.EndKitchenDay(day_id=walking(x)),
    "make_sourer": lambda x: d.MakeSourer(day_id=begun(x), what="vinegar"),
    "end_brew_day": lambda x: d.EndBrewDay(day_id=begun(x)),
    "pitch_brew_day": lambda x: d.PitchBrewDay(day_id=begun(x)),
    "log_reading": lambda x: b.LogReading(brew_id=x.pitch(measured_ph=4.7), ph=4.3),
    "strike": lambda x: x.ready() and co.Strike(kind="reading", number=1),
    "put_back": lambda x: struck(x),
    "correct_reading": lambda x: x.ready() and co.CorrectReading(reading_id=1, now=b.LogReading(brew_id=1, ph=3.9)),
    "add_instrument": lambda x: w.AddInstrument(kind="meter", name="Pen", interval_days=30),
    "carry_out": lambda x: tr.CarryOut(discard=(("lot", x.lot),), apart=(("disc", x.disc),), reason="a trace"),
    "change_instrument": lambda x: w.ChangeInstrument(instrument_id=meter(x), name="Pocket pen", interval_days=14),
    "retire_instrument": lambda x: w.RetireInstrument(instrument_id=meter(x)),
    "note_calibration": lambda x: cb.NoteCalibration(instrument_id=meter(x), off_by=0.1),
    "open_buffer": lambda x: cb.OpenBuffer(buffer=7, opened_on=x.clock().date()),
    "approve_pairing": lambda x: dv.ApprovePairing(code=waiting(x), place_id=x.place),
    "move_device": lambda x: dv.MoveDevice(device_id=device(x), place_id=x.place),
    "rename_device": lambda x: dv.RenameDevice(device_id=device(x), name="The long one"),
    "end_device": lambda x: dv.EndDevice(device_id=device(x)),
    "set_heater": lambda x: dv.SetHeater(device_id=device(x, "heater"), celsius=25.0),
    "keep_whole": lambda x: dv.KeepWhole(days=30.0),
    "doubt_readings": lambda x: dv.DoubtReadings(device_id=device(x), since=x.clock() - timedelta(hours=3), until=x.clock()),
    "read_log": lambda x: w.ReadLog(text="2027-03-01 08:00;21,5", name="a", zone=UTC, place_id=x.place),
    "add_photo": lambda x: w.AddPhoto(brew_id=x.ready(), content=picture(3, 1, (150, 90, 40))),
    "write_note": lambda x: notes.WriteNote(about="brew", about_id=x.ready(), text="Moved it."),
    "label_brew": lambda x: w.LabelBrew(brew_id=x.ready()),
    "overrule_verdict": lambda x: w.OverruleVerdict(brew_id=x.ready(), word="hold"),
    "lift_overrule": lambda x: w.LiftOverrule(brew_id=overruled(x)),
    "date_photo": lambda x: w.DatePhoto(photo_id=x.do(w.add_photo, WALK["add_photo"](x)).made["photo"], taken_at=x.clock() - timedelta(days=2)),
    "take_document": lambda x: TakeDocument(document=DOCUMENT),
    "receive_passport": lambda x: ReceivePassport(
        passport=Passport(
            name="Mistral", diet="jun", origin="received", begun_on="2020-01-01", written_on="2027-02-01"
        ),
        disc=True,
        litres=0.3,
        who="A friend",
    ),
    "part_disc": lambda x: di.PartDisc(disc_id=x.disc, thickness_mm=5),
    "measure_disc": lambda x: di.MeasureDisc(disc_id=x.disc, name="Old one", thickness_mm=12),
    "house_disc": lambda x: di.HouseDisc(disc_id=x.disc, vessel_id=hotel(x)),
    "end_disc": lambda x: di.EndDisc(disc_id=x.disc, ended_as="composted"),
    "feed_hotel": lambda x: ke.FeedHotel(vessel_id=hotel(x), litres=0.2, ph=2.7),
    "give_away": lambda x: gi.GiveAway(culture_id=x.culture, disc_id=x.disc, lot_id=x.lot, litres=0.3, who="A friend"),
    "thin_disc": lambda x: di.ThinDisc(disc_id=x.disc, thickness_mm=6, keep_chunk=True),
    "turn_disc": lambda x: di.TurnDisc(disc_id=x.disc),
    "join_disc": lambda x: di.JoinDisc(disc_id=parted(x), brew_id=x.ready()),
    "take_disc": lambda x: di.TakeDisc(disc_id=joined(x)),
    "revive_disc": lambda x: di.ReviveDisc(disc_id=dried(x)),
    "draw_starter": lambda x: ke.DrawStarter(vessel_id=housed(x), culture_id=x.culture, litres=0.3, ph=2.8),
    "tell_starter": lambda x: ke.TellStarter(lot_id=x.lot, kept_in="fridge", ph=2.9, doubt="A film"),
    "merge_starters": lambda x: ke.MergeStarters(lot_ids=(x.lot, received(x)["lot"])),
    "receive": lambda x: gi.Receive(culture_id=x.culture, disc=True, litres=0.2, ph=3.1, who="A friend"),
    "say_holds": lambda x: gi.SayHolds(gift_id=received(x)["gift"], holds=False),
    "cut_way": lambda x: x.ready() and tr.CutWay(source=("disc", x.disc), target=("brew", 1), reason="Rinsed"),
    "open_way": lambda x: tr.OpenWay(cut_id=cut(x)),
    "set_apart": lambda x: tr.SetApart(nodes=(("disc", x.disc), ("lot", x.lot)), reason="Beside it"),
    "clear": lambda x: (
        x.do(tr.set_apart, tr.SetApart(nodes=(("lot", x.lot),), reason="")),
        tr.Clear(node=("lot", x.lot)),
    )[1],
    "change_culture": lambda x: le.ChangeCulture(culture_id=x.culture, name="Boreas", backups_wanted=3),
    "begin_conversion": lambda x: le.BeginConversion(culture_id=x.culture, target="jun"),
    "end_conversion": lambda x: le.EndConversion(
        conversion_id=x.do(le.begin_conversion, le.BeginConversion(culture_id=x.culture, target="jun")).made[
            "conversion"
        ],
        done=False,
    ),
    "lose_starter": lambda x: ke.LoseStarter(lot_id=x.lot, litres=0.2),
    "put_off": lambda x: c.PutOffDue(what="brew-1-taste", until=x.clock() + timedelta(days=1)),
    "take_up": lambda x: c.TakeUp(number=x.do(c.put_off, WALK["put_off"](x)).made["put_off"]),
    "go_away": lambda x: c.GoAway(leaves=x.clock().date(), returns=x.clock().date() + timedelta(days=9)),
    "come_back": lambda x: c.ComeBack(away_id=x.do(c.go_away, WALK["go_away"](x)).made["away"]),
    "plan_day": lambda x: c.PlanDay(kind="brew", vessel_id=x.vessel, day=x.clock().date() + timedelta(days=3)),
    "buy": lambda x: su.Buy(**SUGAR, price=1.49),
    "correct_purchase": lambda x: su.CorrectPurchase(purchase_id=bought(x), amount=900, price=1.2, day=x.clock().date()),
    "drop_purchase": lambda x: su.DropPurchase(purchase_id=bought(x)),
    "count_good": lambda x: su.CountGood(**SUGAR),
    "put_on_list": lambda x: su.PutOnList(**SUGAR),
    "take_off_list": lambda x: su.TakeOffList(item_id=listed(x)),
    "tick_off": lambda x: su.TickOff(**SUGAR, item_id=listed(x)),
    "price_ticked": lambda x: su.PriceTicked(purchase_id=bought(x), price=2.0),
    "make_wish": lambda x: su.MakeWish(kind="guests", day=x.clock().date() + timedelta(days=3), litres=3.0, people=6, glasses=2.0),
    "call_off": lambda x: su.CallOff(wish_id=x.do(su.make_wish, WALK["make_wish"](x)).made["wish"]),
    "accept_plan": lambda x: su.AcceptPlan(days=(su.DayOfPlan("brew", x.vessel, x.clock().date() + timedelta(days=2), 3.0),)),
    "set_prices": lambda x: su.SetPrices(currency="kr", shop_price=30.0, shop_ml=330.0, power_price=1.5),
    "keep_lesson": lambda x: nb.KeepLesson(text="Chill it sooner.", applies=Applies(vessel="Jar")),
    "dismiss_lesson": lambda x: nb.DismissLesson(key="gushed:Fig", text="Chill it sooner."),
    "reword_lesson": lambda x: nb.RewordLesson(lesson_id=taught(x), text="Two days, no more.", applies=Applies(season="winter")),
    "say_helped": lambda x: nb.SayHelped(lesson_id=taught(x), helped=True),
    "start_experiment": lambda x: StartExperiment(question="Quicker?", changed="the jar", kind="brew", **dict(zip(("plain", "other"), ((one,) for one in two_brews(x)), strict=True))),
    "score_arm": lambda x: ex.ScoreArm(experiment_id=(number := tried(x)), taster_id=1, label=glass_of(x, number), liked=4),
    "tell_apart": lambda x: ex.TellApart(experiment_id=tried(x), taster_id=1, place=2),
    "name_glasses": lambda x: ex.NameGlasses(experiment_id=scored(x)),
    "end_experiment": lambda x: ex.EndExperiment(experiment_id=scored(x), text="Either will do.", applies=Applies(vessel="Jar B")),
    "set_rhythms": lambda x: ex.SetRhythms(every_days=(("covers", 14.0), ("kettle", None))),
    "note_care": lambda x: ex.NoteCare(what="covers", with_what="hot water"),
    "drop_plan": lambda x: c.DropPlan(plan_id=x.do(c.plan_day, WALK["plan_day"](x)).made["plan"]),
    "set_feed": lambda x: c.Feed(wanted=True),
    "start_blind": lambda x: bt.StartBlind(brew_ids=two_brews(x)),
    "fill_sheet": lambda x: bt.FillSheet(blind_id=begun_blind(x), taster_id=1, letter="A", score=1),
    "reveal": lambda x: bt.Reveal(blind_id=filled_blind(x)),
    "save_quick": lambda x: q.SaveQuick(
        brew_id=x.ready(),
        reading=b.LogReading(brew_id=1, ph=3.4),
        tastings=(b.LogTasting(brew_id=1, taster_id=1, score=1),),
        look=b.LogLook(brew_id=1, surface="skin"),
        note="Warm day.",
    ),
    "save_all": lambda x: q.SaveAll(
        lines=(
            q.SaveQuick(brew_id=x.ready(), reading=b.LogReading(brew_id=1, ph=3.4)),
            q.SaveQuick(brew_id=1, tastings=(b.LogTasting(brew_id=1, taster_id=1, score=1),)),
        )
    ),
    "log_tasting": lambda x: b.LogTasting(brew_id=x.pitch(), taster_id=1, score=-2),
    "log_look": lambda x: b.LogLook(brew_id=x.pitch(), surface="skin"),
    "discard_brew": lambda x: b.DiscardBrew(brew_id=x.pitch(), reason="fuzz"),
    "reserve_starter": lambda x: h.ReserveStarter(brew_id=x.ready(), litres=0.5, ph=3.2),
    "say_no_next_brew": lambda x: h.SayNoNextBrew(brew_id=x.ready()),
    "fill_bottles": lambda x: fi.FillBottles(
        brew_id=x.filled(), kind="crown-cap", count=2, volume_ml=330, headspace_fraction=0.03
    ),
    "end_brew": lambda x: h.EndBrew(brew_id=x.filled()),
    "set_up_tap": lambda x: ta.SetUpTapped(vessel_id=x.vessel, **TAP),
    "run_on": lambda x: ta.RunOn(brew_id=tap(x) and x.ready()),
    "draw_off": lambda x: ta.DrawOff(brew_id=runs(x), litres=0.5, run_off=True, stirred=True),
    "top_up": lambda x: x.do(ta.draw_off, ta.DrawOff(brew_id=runs(x), litres=1.0))
    and ta.TopUp(brew_id=1, litres=0.9, ph=3.6, tea_c=24.0, fresh_cover=True),
    "care_for": lambda x: runs(x) and ta.CareFor(vessel_id=x.vessel, what="gauge", celsius=22.0),
    "pause": lambda x: ta.Pause(brew_id=runs(x), how="cool"),
    "resume": lambda x: x.do(ta.pause, ta.Pause(brew_id=runs(x), how="here")) and ta.Resume(brew_id=1),
    "chill_bottles": lambda x: x.filled() and ce.MoveBottles(bottle_ids=(1, 2)),
    "warm_bottles": lambda x: x.filled(cold=True) and ce.MoveBottles(bottle_ids=(1,)),
    "open_bottle": lambda x: x.filled() and ce.OpenBottle(bottle_id=1, hiss=3, taste="good"),
    "hear_bottles": lambda x: x.filled() and ce.HearBottles(bottle_ids=(1, 2), hiss=3),
    "fill_plan": plan,
    "import_sheet": lambda x: im.ImportSheet(
        brews=(
            BrewTold(
                2, "Blue jar", "", x.clock() - timedelta(days=30), x.clock() - timedelta(days=20), 3.0, 60.0, "good",
                (ReadingTold(2, x.clock() - timedelta(days=25), 3.4, 22.0, ""),),
            ),
        )
    ),
    "find_bottles": lambda x: fi.FindBottles(
        brew_id=x.ready(), kind="swing-top", count=2, volume_ml=500, headspace_fraction=0.04, filled_at=x.clock() - timedelta(days=1)
    ),
    "lose_bottle": lambda x: emptied(x) and ce.LoseBottle(bottle_id=2, left_as="burst"),
    "close_again": lambda x: x.filled() and ce.CloseAgain(bottle_id=1),
    "shift_bottles": lambda x: x.filled(cold=True) and ce.ShiftBottles(bottle_ids=(1, 2), place_id=x.place),
    "own_bottles": lambda _: owning.OwnBottles(line="12 swing-top 500 mL, 6 pet"),
    "change_kind": lambda x: owning.ChangeKind(type_id=own_kind(x), owned=5, limit_bar=5.0, closure="swing", fresh_closures=True),
    "wash_bottles": lambda x: owning.WashBottles(type_id=emptied(x)),
    "retire_bottles": lambda x: owning.RetireBottles(type_id=own_kind(x)),
    "keep_flavour": lambda x: replace(RHUBARB, flavour_id=flavour(x), parts=RHUBARB.parts[:1], name="Less"),
    "retire_flavour": lambda x: fl.RetireFlavour(flavour_id=flavour(x)),
    "add_ingredient": lambda _: fl.AddIngredient(name="Cordial", form="syrup", sugar=40, acid_g_per_l=8),
    "drop_ingredient": lambda x: fl.DropIngredient(
        ingredient_id=x.do(fl.add_ingredient, fl.AddIngredient(name="Cider", form="drink", abv=5)).made["ingredient"]
    ),
    "put_in_larder": lambda _: fl.PutInLarder(ingredient="damson", where="freezer", grams=500),
    "take_from_larder": lambda x: fl.TakeFromLarder(
        item_id=x.do(fl.put_in_larder, fl.PutInLarder(ingredient="damson", where="freezer")).made["item"]
    ),
    "start_infusion": lambda x: nf.StartInfusion(
        brew_id=reserved(x), litres=0.8, parts=(fl.PartTold("mint", 5.0),), name="Mint", cold=True
    ),
    "taste_infusion": lambda x: nf.TasteInfusion(infusion_id=jar(x), more_hours=6, ph=3.3, word="faint"),
    "strain_infusion": lambda x: nf.StrainInfusion(infusion_id=jar(x)),
    "end_infusion": lambda x: nf.EndInfusion(infusion_id=jar(x)),
    "start_trial": lambda x: nf.StartTrial(brew_id=x.ready(), ingredient="apple-juice"),
    "taste_step": lambda x: nf.TasteStep(trial_id=bench(x), grams=20, score=1),
    "end_trial": lambda x: nf.EndTrial(trial_id=bench(x), name="Apple"),
    "score_bottle": lambda x: x.filled() and sc.ScoreBottle(taster_id=1, bottle_id=1, liked=4, sheet={"fizz": 3}),
    "start_comparison": lambda x: compared(x) and sc.StartComparison(bottling_ids=(2, 1), seed=2),
    "reveal_comparison": lambda x: sc.RevealComparison(comparison_id=compared(x)),
    "finish_bottles": lambda x: x.filled() and ce.FinishBottles(bottle_ids=(1, 2, 3)),
}


def state(database):
    """All rows of all tables but the journal and what is computed."""
    with database.reader() as session:
        return {
            table: sorted(map(repr, session.connection().exec_driver_sql(f'SELECT * FROM "{table}"')))
            for table in Base.metadata.tables
            if table not in {"change", "touched", "lesson", *(kind.__tablename__ for kind in SENT)}
        }


assert receive_passport is ACTIONS["receive_passport"]


def test_the_walk_knows_every_action():
    """No action is left out of the walk."""
    assert set(WALK) == set(ACTIONS)


@pytest.mark.parametrize("name", WALK)
def test_do_then_undo_leaves_the_household_as_it_was(kitchen, name):
    """An action changes something, and undo puts every row back, versions too."""
    ask = WALK[name](kitchen)
    before = state(kitchen.database)
    done = kitchen.do(ACTIONS[name], ask)
    assert state(kitchen.database) != before
    kitchen.do(undo, Undo(done.change_id))
    assert state(kitchen.database) == before


def test_undo_twice_or_under_later_work_is_refused(kitchen):
    """What was undone, or what later work builds on, is not undone; nothing changes."""
    brew = kitchen.pitch()
    first = kitchen.do(h.say_no_next_brew, h.SayNoNextBrew(brew_id=brew))
    kitchen.do(b.discard_brew, b.DiscardBrew(brew_id=brew, reason="sour smell"))
    before = state(kitchen.database)
    with pytest.raises(ConflictError, match="later"):
        kitchen.do(undo, Undo(first.change_id))
    assert state(kitchen.database) == before
    with pytest.raises(ConflictError, match="later"):
        kitchen.do(undo, Undo(2))
    assert state(kitchen.database) == before
    done = kitchen.do(k.add_place, k.AddPlace(name="Loft", celsius=19))
    kitchen.do(undo, Undo(done.change_id))
    with pytest.raises(ConflictError, match="already"):
        kitchen.do(undo, Undo(done.change_id))


def test_what_an_experiment_is_about_is_not_taken_away(kitchen):
    """A brew of a running experiment stays; once the experiment is undone, the brew can be undone too."""
    first, second = two_brews(kitchen)
    with kitchen.database.reader() as session:
        pitched = session.scalars(select(Change).order_by(Change.id.desc())).first().id
    begun = kitchen.do(ex.start_experiment, StartExperiment(question="Quicker?", changed="the jar", kind="brew", plain=(first,), other=(second,)))
    with pytest.raises(ConflictError, match="Quicker"):
        kitchen.do(undo, Undo(change_id=pitched))
    kitchen.do(undo, Undo(change_id=begun.change_id))
    assert kitchen.do(undo, Undo(change_id=pitched)).says.startswith("Undone")
