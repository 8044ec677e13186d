"""Forms of the cultures: lines, discs, starters, the hotel, gifts, conversions."""

from __future__ import annotations

from wtforms import BooleanField, StringField, TextAreaField
from wtforms.validators import DataRequired

from ....actions.cultures.keeping import FEEDS
from ....actions.household import ORIGINS
from ....core.base.facts import INSTRUMENTS
from ...kit import meters
from ...kit.fields import ChoiceField, KitchenForm, QuantityField, WholeField
from ...kit.numbers import number_of

READ_BY = [(key, entry.name) for key, entry in INSTRUMENTS.items()]

A_CUP_L = 0.25  #: Starter is usually measured in cups. [L]


class CultureForm(KitchenForm):
    """A line, with the liquid and disc it came with."""

    name = StringField("Name", validators=[DataRequired("Give the culture a name.")])
    diet = ChoiceField(
        "Lives on", choices=[("sugar", "Sugar and tea (kombucha)"), ("jun", "Honey and green tea (jun)")]
    )
    origin = ChoiceField("Where it came from", choices=list(ORIGINS.items()))
    starter_l = QuantityField("Liquid that came with it", kind="volume", like_l=A_CUP_L, required=False)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    instrument = ChoiceField("by", default=meters.usual, choices=READ_BY)
    with_disc = BooleanField("A SCOBY (disc, mother) came with it", default=True)
    story = TextAreaField("Story")


class RuleForm(KitchenForm):
    """A line's name, story and rule."""

    name = StringField("Name", validators=[DataRequired("Give the culture a name.")])
    backups_wanted = QuantityField("Spares to keep, at least", kind="number")
    story = TextAreaField("Story")
    version = WholeField("version")


class DiscForm(KitchenForm):
    """A disc's name and size, or what is done with it."""

    name = StringField("Name")
    thickness_mm = QuantityField("Thickness", kind="thickness", required=False)
    diameter_cm = QuantityField("Width", kind="length", required=False)


class PartForm(KitchenForm):
    """The newer part of a disc."""

    part_name = StringField("Name")
    part_mm = QuantityField("Thickness", kind="thickness", required=False)


class ThinForm(KitchenForm):
    """A chunk taken off."""

    thin_mm = QuantityField("Thickness left", kind="thickness")
    keep_chunk = BooleanField("The chunk is kept as a disc of its own")


class HouseForm(KitchenForm):
    """Where a disc goes."""

    hotel = ChoiceField("Into", coerce=number_of)
    position = QuantityField("Place from the top", kind="number", required=False)


class JoinStartersForm(KitchenForm):
    """The brew that a disc or starter is laid into."""

    brew = ChoiceField("Into the brew in", coerce=number_of)
    join_position = QuantityField("Place from the top", kind="number", required=False)
    other_line = BooleanField("Two lines in one jar are meant")


class EndDiscForm(KitchenForm):
    """How a disc ends here."""

    ended_as = ChoiceField("What happened to it")
    note = StringField("Why")


class GiftForm(KitchenForm):
    """Something living for someone."""

    disc = ChoiceField("Disc", coerce=number_of, default=0)
    lot = ChoiceField("Liquid", coerce=number_of, default=0)
    litres = QuantityField("Amount", kind="volume", required=False, like_l=A_CUP_L)
    who = StringField("For whom")


class ReceiveForm(KitchenForm):
    """Something living from someone."""

    got_disc = BooleanField("A disc")
    got_l = QuantityField("Liquid", kind="volume", required=False, like_l=A_CUP_L)
    got_ph = QuantityField("Its pH, if measured", required=False)
    from_whom = StringField("From whom")


class FeedForm(KitchenForm):
    """What the hotel was given, and how it stands."""

    of = ChoiceField("Fed with", default="sweet tea", choices=list(FEEDS.items()))
    litres = QuantityField("Amount", kind="volume", required=False, like_l=A_CUP_L)
    brew = ChoiceField("From which brew", coerce=number_of, default=0)
    ph = QuantityField("pH of its liquid", required=False)
    level_l = QuantityField("Liquid in it now", kind="volume", required=False)
    fresh_cover = BooleanField("It has a fresh cover")


class DrawStarterForm(KitchenForm):
    """Starter drawn from the hotel."""

    culture = ChoiceField("For", coerce=number_of)
    draw_l = QuantityField("Amount", kind="volume", like_l=A_CUP_L)
    draw_ph = QuantityField("Its pH, if measured", required=False)


class LotForm(KitchenForm):
    """Where a starter stands and how it is."""

    kept_in = ChoiceField("Where it is kept", choices=[("shelf", "on a shelf"), ("fridge", "in the fridge")])
    ph = QuantityField("pH", required=False)
    instrument = ChoiceField("by", default=meters.usual, choices=READ_BY)
    base_ml = QuantityField("Titrated: base, mL", required=False)
    base_normality = QuantityField("its strength, N", required=False)
    sample_ml = QuantityField("sample, mL", required=False)
    doubt = StringField("Anything wrong with it")


class ConversionForm(KitchenForm):
    """Where a line is to be led, and how fast."""

    step = QuantityField("How much further with each brew, %", kind="number")
