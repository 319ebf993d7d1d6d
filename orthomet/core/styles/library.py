"""Styles: what a school of drawing, a picture book or one hand makes of each reading."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Literal

from pydantic import Field, model_validator

from ..datafiles import Record, load_folder, parse, read_text
from ..errors import OrthometError, UnknownName, quoted
from ..figure.choices import FigureChoices
from ..kinds import Kind
from ..names import named
from ..proportions.views import every_reading, known_reading
from ..shapes.traits import StyleShapes

MAX_STYLE_BYTES = 1_000_000


class StyleRow(Record):
    """A style's value for one reading, with its spread and sample count where it was learned."""

    mean: float
    sd: float | None = None
    n: int | None = None
    signature: bool = False
    """Far from the norm and steady: what this hand is known by."""


class Style(Record):
    """A style: values for the readings it cares about; the norm stands in for the rest."""

    name: str
    title: str
    note: str = ""
    source: str = ""
    readings: dict[str, StyleRow]
    form: dict[str, float] = {}
    """Qualities of the figure's form that go with it."""
    limbs: Literal["", "jointed", "rubber"] = ""
    hair: str = Field("", max_length=60)
    """The hairstyle its people are shown with."""
    shapes: StyleShapes | None = None
    """What its drawings have in common as shapes."""

    @model_validator(mode="after")
    def _known_readings(self) -> Style:
        for key, row in self.readings.items():
            if not known_reading(key):
                raise ValueError(f"{quoted(key)} is not a reading")
            sentence = row_problem(key, row)
            if sentence:
                raise ValueError(sentence)
        FigureChoices(form=self.form)  # held to the same bounds
        return self


def row_problem(key: str, row: StyleRow) -> str:
    """Why a value cannot be a reading's, or nothing: a size is above 0, a station lies on the head, an angle within ±180°."""
    r = every_reading().get(key)
    kind, angle = (r.kind, r.angle) if r is not None else (Kind.SIZE, False)
    low, high = (-180.0, 180.0) if angle else RANGE[kind]
    if not low <= row.mean <= high:
        return f"{key} of {row.mean:g} is out of all bounds ({low:g} to {high:g})"
    if row.sd is not None and not 0 <= row.sd <= high:
        return f"the spread {row.sd:g} of {key} is out of all bounds"
    return ""


RANGE = {
    Kind.SIZE: (1e-4, 1e3), Kind.STATION: (0.0, 1.0), Kind.SIGNED: (-1e3, 1e3), Kind.COUNT: (0.0, 1e6), Kind.PRESENCE: (0.0, 1.0),
}  # fmt: skip
"""What any drawing can hold (own: far beyond every style, short of what breaks arithmetic)."""


@cache
def styles() -> dict[str, Style]:
    """The styles that ship, by name."""
    return {s.name: s for s in load_folder("orthomet.core.styles.data", Style).values()}


def style(name: str) -> Style:
    """A style of the library, by its name or its title, or one read from a ``.json`` file.

    Raises
    ------
    UnknownName, FormatError
    """
    known = styles()
    if name in known:
        return known[name]
    meant = named(name, ((s.name, s.title) for s in known.values()))
    if meant is not None:
        return known[meant]
    if name.lower().endswith(".json"):
        return read_style(name)
    raise UnknownName("style", name, list(known))


def read_style(path: str | Path) -> Style:
    """A style from its file.

    Raises
    ------
    FormatError
    """
    return parse(Style, read_text(path, MAX_STYLE_BYTES, "a style"), Path(path).name)


def is_style_file(path: str | Path) -> bool:
    """Whether a JSON file looks like a style rather than anything else this program writes; False when it cannot be read."""
    try:
        text = read_text(path, MAX_STYLE_BYTES, "a style")
    except OrthometError:
        return False
    return '"readings"' in text and '"points"' not in text
