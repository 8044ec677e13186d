"""A sheet for what somebody tastes of a spoonful: sweet to sour, tea, yeast, what else, again, when and after what."""

from __future__ import annotations

from flask import g
from wtforms import StringField
from wtforms.validators import Optional

from ...core.liquid.taste import SCORE_WORDS
from ...store.read import queries
from .fields import ChoiceField, KitchenForm, MomentField
from .numbers import number_of

STRENGTHS = [("", "not said"), ("0", "none"), ("1", "faint"), ("2", "clear"), ("3", "strong")]


class SheetForm(KitchenForm):
    """A sheet."""

    taster = ChoiceField("Who tastes", coerce=number_of)
    score = ChoiceField("Sweet or sour", choices=[(str(i - 3), word) for i, word in enumerate(SCORE_WORDS)])
    tea = ChoiceField("Tea", default="", choices=STRENGTHS)
    yeast = ChoiceField("Yeast", default="", choices=STRENGTHS)
    again = ChoiceField("Again like this?", default="", choices=[("", "not said"), ("yes", "yes"), ("no", "no")])
    after = StringField("Tasted after", validators=[Optional()])
    note = StringField("What else", validators=[Optional()])
    at = MomentField("When, if not now")

    def answers(self) -> dict[str, object]:
        """Return the sheet's answers, without who and when."""
        whole = {"tea": self.tea.data, "yeast": self.yeast.data}
        numbers = {name: int(value) if value else None for name, value in whole.items()}
        again = {"yes": True, "no": False}.get(self.again.data or "")
        return {**numbers, "again": again, "after": self.after.data or "", "note": self.note.data or ""}


def sheet_form(**given: object) -> SheetForm:
    """Make a sheet for this household's tasters."""
    form = SheetForm(**given)
    form.taster.choices = [(t.id, t.name) for t in queries.tasters_of(g.session)]
    return form


