"""Forms of the cultures: lines, discs, starters, the hotel, gifts, conversions."""

from __future__ import annotations

from wtforms import BooleanField, IntegerField, StringField, TextAreaField
from wtforms.validators import DataRequired

from ...actions.household import ORIGINS
from ...actions.keeping import FEEDS
from ...core.facts import INSTRUMENTS
from ..fields import ChoiceField, KitchenForm, QuantityField

READ_BY = [(key, entry.name) for key, entry in INSTRUMENTS.items()]


class CultureForm(KitchenForm):
    """A line, with the liquid and disc it came with."""

    name = StringField("Name", validators=[DataRequired("Give the culture a name.")])
    diet = ChoiceField(
        "Lives on", choices=[("sugar", "Sugar and tea (kombucha)"), ("jun", "Honey and green tea (jun)")]
    )
    origin = ChoiceField("Came", choices=list(ORIGINS.items()))
    starter_l = QuantityField("Liquid that came with it", kind="volume", required=False)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    instrument = ChoiceField("by", default="meter", choices=READ_BY)
    with_disc = BooleanField("A disc (mother, SCOBY) came with it", default=True)
    story = TextAreaField("Its story")


class RuleForm(KitchenForm):
    """A line's name, story and rule."""

    name = StringField("Name", validators=[DataRequired("Give the culture a name.")])
    backups_wanted = QuantityField("Keep at least so many backups", kind="number")
    story = TextAreaField("Its story")
    version = IntegerField("version")


class DiscForm(KitchenForm):
    """A disc's name and size, or what is done with it."""

    name = StringField("Name")
    thickness_mm = QuantityField("Thickness, mm", required=False)
    diameter_cm = QuantityField("Width", kind="length", required=False)


class PartForm(KitchenForm):
    """The newer part of a disc."""

    part_name = StringField("Call it")
    part_mm = QuantityField("So thick, mm", required=False)


class ThinForm(KitchenForm):
    """A chunk taken off."""

    thin_mm = QuantityField("Left of it, mm")
    keep_chunk = BooleanField("The chunk is kept as a disc of its own")


class HouseForm(KitchenForm):
    """Where a disc goes."""

    hotel = ChoiceField("Into", coerce=int)
    position = QuantityField("Place from the top", kind="number", required=False)


class JoinForm(KitchenForm):
    """A brew it is laid into."""

    brew = ChoiceField("Into the brew in", coerce=int)
    join_position = QuantityField("Place from the top", kind="number", required=False)
    other_line = BooleanField("Two lines in one jar are meant")


class EndForm(KitchenForm):
    """How a disc ends here."""

    ended_as = ChoiceField("It was")
    note = StringField("Why")


class GiftForm(KitchenForm):
    """Something living for someone."""

    disc = ChoiceField("Disc", coerce=int, default=0)
    lot = ChoiceField("Liquid", coerce=int, default=0)
    litres = QuantityField("So much of it", kind="volume", required=False)
    who = StringField("For whom")


class ReceiveForm(KitchenForm):
    """Something living from someone."""

    got_disc = BooleanField("A disc")
    got_l = QuantityField("Liquid", kind="volume", required=False)
    got_ph = QuantityField("Its pH, if measured", required=False)
    from_whom = StringField("From whom")


class FeedForm(KitchenForm):
    """What the hotel was given, and how it stands."""

    of = ChoiceField("It got", default="sweet tea", choices=list(FEEDS.items()))
    litres = QuantityField("So much", kind="volume", required=False)
    brew = ChoiceField("Of which brew", coerce=int, default=0)
    ph = QuantityField("pH of its liquid", required=False)
    level_l = QuantityField("Liquid in it now", kind="volume", required=False)
    fresh_cover = BooleanField("It has a fresh cover")


class DrawForm(KitchenForm):
    """Starter drawn from the hotel."""

    culture = ChoiceField("For", coerce=int)
    draw_l = QuantityField("So much", kind="volume")
    draw_ph = QuantityField("Its pH, if measured", required=False)


class LotForm(KitchenForm):
    """Where a starter stands and how it is."""

    kept_in = ChoiceField("It stands", choices=[("shelf", "on a shelf"), ("fridge", "in the fridge")])
    ph = QuantityField("pH", required=False)
    instrument = ChoiceField("by", default="meter", choices=READ_BY)
    base_ml = QuantityField("Titrated: base, mL", required=False)
    base_normality = QuantityField("its strength, N", required=False)
    sample_ml = QuantityField("sample, mL", required=False)
    doubt = StringField("Anything wrong with it")


class ConversionForm(KitchenForm):
    """Where a line is to be led, and how fast."""

    step = QuantityField("Each brew, so much further, %", kind="number")
