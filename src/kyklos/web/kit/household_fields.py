"""Fields of how a household lives: its time zone and quiet hours as lists, its tasters one by one."""

from __future__ import annotations

from datetime import datetime
from functools import cache
from typing import Any
from zoneinfo import available_timezones

from markupsafe import Markup, escape
from wtforms import Field

from .fields import ChoiceField, PlainSelect
from .numbers import whole
from .reader import hour_word

AREAS = ("Africa", "America", "Antarctica", "Arctic", "Asia", "Atlantic", "Australia", "Europe", "Indian", "Pacific")
MOST_NAMES = 30


@cache
def zones() -> dict[str, tuple[tuple[str, str], ...]]:
    """Return the time zones of each part of the world, by town: (key, town). A town of the same area may stand in a state."""
    out: dict[str, list[tuple[str, str]]] = {area: [] for area in AREAS}
    for key in available_timezones():
        area, _, town = key.partition("/")
        if area in out:
            out[area].append((key, ", ".join(reversed(town.replace("_", " ").split("/")))))
    listed = {area: tuple(sorted(rows, key=lambda row: row[1])) for area, rows in out.items()}
    return {**listed, "No place": (("UTC", "UTC"),)}


class ZoneSelect(PlainSelect):
    """Draws the zones, a group for each part of the world."""

    def __call__(self, field: Any, **attributes: Any) -> Markup:
        """Draw them; a zone that no list has stands first, as it is."""
        groups = zones() if any(key == field.data for rows in zones().values() for key, _ in rows) else {"Now": ((field.data or "",) * 2,), **zones()}
        out = []
        for area, rows in groups.items():
            options = "".join(f'<option value="{escape(key)}"{" selected" if key == field.data else ""}>{escape(town)}</option>' for key, town in rows)
            out.append(f'<optgroup label="{area}">{options}</optgroup>')
        classes = escape(attributes.get("class_", attributes.get("class", "form-select")))
        return Markup(f'<select id="{field.id}" name="{field.name}" class="{classes}">{"".join(out)}</select>')


class ZoneField(Field):  # type: ignore[misc]
    """A time zone, such as Europe/Paris; whether it is known is for the action to say."""

    widget = ZoneSelect()

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read what was chosen."""
        self.data = valuelist[0].strip()[:80] if valuelist else ""


class HourField(ChoiceField):
    """A full hour of the day; its data is 0 to 23."""

    def __init__(self, label: str, **given: Any) -> None:
        """Make a field of 24 hours."""
        super().__init__(label, choices=[], coerce=int, **given)

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read what was chosen."""
        self.data = whole(valuelist[0]) if valuelist else None
        if valuelist and self.data is None:
            raise ValueError("Choose an hour.")

    def iter_choices(self) -> Any:
        """List the hours as the reader's clock has them."""
        for hour in range(24):
            yield hour, hour_word(datetime(2001, 1, 1, hour)), hour == self.data, {}

    def pre_validate(self, form: Any) -> None:
        """Leave it to the action which hours there are."""


class NamesInput:
    """Draws a row to type into for each name, and one more."""

    def __call__(self, field: Any, **attributes: Any) -> Markup:
        """Draw them, each with a name for a reader who cannot see."""
        rows = []
        for number, name in enumerate((*(field.data or ()), ""), 1):
            here = field.id if number == 1 else f"{field.id}-{number}"
            hint = "" if name else ' placeholder="one more"'
            label = escape(f"{field.label.text} {number}")
            rows.append(
                f'<input class="form-control" type="text" id="{here}" name="{field.name}" value="{escape(name)}"'
                f' maxlength="60" autocomplete="off" aria-label="{label}"{hint}>'
            )
        return Markup("".join(rows))


class NamesField(Field):  # type: ignore[misc]
    """Names one by one, in their order; several with commas between them are several."""

    widget = NamesInput()

    def process_formdata(self, valuelist: list[str]) -> None:
        """Read the rows that are filled."""
        self.data = tuple(name.strip() for text in valuelist[:MOST_NAMES] for name in text.split(",") if name.strip())
