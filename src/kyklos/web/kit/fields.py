"""Form fields: numbers typed with commas, fractions and units; what was typed is kept, problems stand beside it."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any, Self
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from flask import g
from flask_wtf import FlaskForm
from markupsafe import Markup, escape
from wtforms import Field, IntegerField, SelectField, SelectMultipleField, widgets
from wtforms.fields.choices import SelectChoice
from wtforms.validators import ValidationError

from ...actions.base import ConflictError, RefusedError
from ...core.base.errors import Problem
from ...core.base.kinds import Dimension, Units
from . import units
from .numbers import whole

HUGE = 1e6


def _attributes(**given: Any) -> str:
    """Write attributes: class_ as class, aria_x as aria-x, nothing for what is False or None."""
    rows = ((name.rstrip("_"), value) for name, value in given.items() if value is not False and value is not None)
    return " ".join(name if value is True else f'{name}="{escape(str(value))}"' for name, value in rows)


class PlainInput:
    """Draws a field to type into."""

    validation_attrs: tuple[str, ...] = ("required", "disabled")

    def __call__(self, field: Any, **attributes: Any) -> Markup:
        """Draw it."""
        attributes.setdefault("id", field.id)
        return Markup(f'<input type="text" {_attributes(name=field.name, value=field._value(), **attributes)}>')


class PlainSelect:
    """Draws a list of choices; the forms of a brew day have hundreds, and the library's own way is slow."""

    validation_attrs: tuple[str, ...] = ("required", "disabled")

    def __call__(self, field: Any, **attributes: Any) -> Markup:
        """Draw it."""
        options = (
            f'<option value="{escape(str(value))}"{" selected" if chosen else ""}>{escape(str(label))}</option>'
            for value, label, chosen, *_ in field.iter_choices()
        )
        attributes.setdefault("id", field.id)
        return Markup(f"<select {_attributes(name=field.name, **attributes)}>{''.join(options)}</select>")


class ChoiceField(SelectField):  # type: ignore[misc]
    """A choice from (key, name) pairs, which may be set later too."""

    widget = PlainSelect()

    def __setattr__(self, name: str, value: Any) -> None:
        if name == "choices" and value is not None and not callable(value):
            value = [SelectChoice(*pair) if isinstance(pair, tuple) else pair for pair in value]
        super().__setattr__(name, value)

    def __init__(self, label: str, choices: Iterable[Any] | None = None, **given: Any) -> None:
        """Make a field of pairs."""
        pairs = [SelectChoice(*pair) for pair in choices] if choices is not None else None
        super().__init__(label, choices=pairs, **given)


class WholeField(IntegerField):  # type: ignore[misc]
    """A whole number."""

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read what was typed."""
        self.data = None
        if valuelist:
            self.data = whole(valuelist[0])
            if self.data is None:
                raise ValueError("Type a whole number.")


class QuantityField(Field):  # type: ignore[misc]
    """A number in the household's units; its data is SI."""

    widget = PlainInput()
    data: Any  #: SI, or None

    def __init__(
        self,
        label: str,
        kind: str = Dimension.NUMBER,
        required: bool = True,
        hint: str = "",
        like_l: float | None = None,
        **given: Any,
    ) -> None:
        """Make a field of a kind: volume, length, temperature, mass or number; `like_l`: how large it usually is. [L]"""
        super().__init__(label, **given)
        self.kind, self.required, self.hint, self.like_l = kind, required, hint, like_l
        self.typed: str | None = None
        self.alone = ""  #: The unit of a number alone, where it is not the household's usual one.

    def like(self, litres: float | None) -> QuantityField:
        """Ask for a volume in the unit in which so much is said beside it, where that is not litres. [L]"""
        if litres is not None and self.kind == Dimension.VOLUME and g.units != Units.METRIC:
            self.alone = units.unit_like(litres, g.units)
        return self

    @property
    def unit(self) -> str:
        """The unit shown beside it."""
        if self.kind in {Dimension.NUMBER, Dimension.ALKALINITY}:
            return "meq/L" if self.kind == Dimension.ALKALINITY else ""
        return units.SHOWN[self.alone or units.TYPED[g.units][self.kind]]

    def _value(self) -> str:
        if self.typed is not None:
            return self.typed
        if self.alone and self.data is not None:
            return units.typed_in(self.data, self.alone)
        return units.typed(self.data, self.kind, g.units)

    def process(self, formdata: Any, *given: Any, **more: Any) -> None:
        """Read which unit stood beside the field when it was sent, then the rest."""
        text = formdata.get(f"{self.name}-in", "") if formdata else ""
        if self.kind == Dimension.VOLUME and text in units.SHOWN:
            self.alone = text
        else:
            self.like(self.like_l)
        super().process(formdata, *given, **more)

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read what was typed."""
        self.typed = valuelist[0][:60] if valuelist else ""
        self.data = None
        if not self.typed.strip():
            return
        try:
            value = units.parse(self.typed, self.kind, g.units, self.alone)
        except units.NotANumberError as problem:
            raise ValueError(str(problem)) from problem
        if abs(value) > HUGE:
            raise ValueError("That number is far too large.")
        self.data = value

    def pre_validate(self, form: Any) -> None:
        """Ask for what is missing, unless the text itself was refused."""
        if self.required and self.data is None and not self.process_errors:
            raise ValidationError("Type a number here.")


class AmountField(QuantityField):
    """How much leaf or sweetener, by litre, weight, cups, spoons or bags; its data is a `DryAmount`."""

    def __init__(self, label: str, **given: Any) -> None:
        """Make a field; a number alone is by litre."""
        super().__init__(label, kind=Dimension.STRENGTH, **given)

    def _value(self) -> str:
        if self.typed is not None or self.data is None:
            return self.typed or ""
        return units.typed(self.data.value, self.data.kind, g.units) if self.data.kind == Dimension.STRENGTH else ""

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read what was typed."""
        self.typed = valuelist[0][:60] if valuelist else ""
        self.data = None
        if not self.typed.strip():
            return
        try:
            found = units.amount(self.typed, g.units)
        except units.NotANumberError as problem:
            raise ValueError(str(problem)) from problem
        if not 0 <= found.value <= HUGE:
            raise ValueError("That number cannot be right.")
        self.data = found


class TicksField(SelectMultipleField):  # type: ignore[misc]
    """Several of some things, each with a box; an unknown one is simply not there."""

    widget = widgets.ListWidget(prefix_label=False)
    option_widget = widgets.CheckboxInput()

    def __setattr__(self, name: str, value: Any) -> None:
        if name == "choices" and value is not None and not callable(value):
            value = [SelectChoice(*pair) if isinstance(pair, tuple) else pair for pair in value]
        super().__setattr__(name, value)

    def pre_validate(self, form: Any) -> None:
        """Let unknown ones pass; they are asked for and not found."""


class MomentField(Field):  # type: ignore[misc]
    """A date and time in the household's zone; empty means now."""

    widget = widgets.DateTimeLocalInput()

    def _value(self) -> str:
        return getattr(self, "typed", "") or ""

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read a local time."""
        self.typed = valuelist[0][:40] if valuelist else ""
        self.data = None
        if self.typed:
            try:
                local = datetime.fromisoformat(self.typed)
            except ValueError as problem:
                raise ValueError("This is not a date and time; like 2027-03-01T18:30.") from problem
            try:
                self.data = local.replace(tzinfo=ZoneInfo(g.household.zone)).astimezone(UTC)
            except OverflowError as problem:
                raise ValueError("That lies outside any calendar.") from problem


class KitchenForm(FlaskForm):  # type: ignore[misc]
    """A form whose problems may come from the fields or from the action."""

    def of_one(self, key: str) -> Self:
        """Tell its fields from those of a form of the same kind that stands on the same page for another thing."""
        for field in self:
            field.id = f"{field.id}-{key}"
        return self

    def take(self, refused: RefusedError) -> None:
        """Put an action's problems beside their fields; others stand above the form."""
        self.add_problems(refused.problems)

    status = 422  #: Of the page on which it is shown again.

    def overtaken(self, conflict: ConflictError, version: int, **now: Any) -> None:
        """Tell that another window was quicker, and beside each field that differs what it wrote; what was typed stays.

        Args:
            conflict: Says so.
            version: Of the record now: saved again, what is typed here counts.
            now: What the record says now, by field.
        """
        self.status = 409
        self.form_errors.append(str(conflict))
        self.version.raw_data, self.version.data = None, version
        for name, value in now.items():
            field = self[name]
            if field.data != value:
                field.errors = [*field.errors, f"The other window wrote “{_as_shown(field, value)}”."]

    def add_problems(self, problems: Iterable[Problem]) -> None:
        """Put problems beside their fields."""
        for problem in problems:
            field = self._fields.get(problem.field)
            if field is None:
                self.form_errors.append(problem.message)
            else:
                field.errors = [*field.errors, problem.message]


def _as_shown(field: Field, value: Any) -> str:
    """Put a value into words, as its field would show it."""
    if isinstance(field, SelectField):
        return str(next((label for key, label, *_ in field.iter_choices() if key == value), value))
    if isinstance(field, QuantityField):
        return f"{units.typed(value, field.kind, g.units)} {field.unit}".strip()
    return ("yes" if value else "no") if isinstance(value, bool) else str(value)


MORE_OF_A_READING = ("celsius", "at")  #: Fields that are folded until they are needed.


def more_asked(form: KitchenForm) -> bool:
    """Return whether a folded field of a reading was filled in or is wrong."""
    rows = (form[name] for name in form._fields if name in MORE_OF_A_READING)
    return any(field.errors or getattr(field, "typed", "") for field in rows)


def request_query(form: KitchenForm) -> str:
    """Write what stands in a form as a query, so that a *why?* sees the same."""
    values = {}
    for name, field in form._fields.items():
        if name not in {"csrf_token", "once"} and field.data is not None and field.data is not False:
            values[name] = field._value() if hasattr(field, "_value") else field.data
    return urlencode(values, doseq=True)
