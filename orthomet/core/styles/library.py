"""Styles: what a school of drawing, a picture book or one hand makes of each reading."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from pydantic import model_validator

from ..datafiles import Record, load_folder, parse, read_text
from ..errors import OrthometError, UnknownName
from ..proportions.views import known_reading

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

    @model_validator(mode="after")
    def _known_readings(self) -> Style:
        for key in self.readings:
            if not known_reading(key):
                raise ValueError(f"“{key}” is not a reading")
        return self


@cache
def styles() -> dict[str, Style]:
    """The styles that ship, by name."""
    return {s.name: s for s in load_folder("orthomet.core.styles.data", Style).values()}


def style(name: str) -> Style:
    """A style of the library, or one read from a ``.json`` file.

    Raises
    ------
    UnknownName, FormatError
    """
    known = styles()
    if name in known:
        return known[name]
    if name.endswith(".json"):
        return parse(Style, read_text(name, MAX_STYLE_BYTES, "a style"), Path(name).name)
    raise UnknownName("style", name, list(known))


def is_style_file(path: str | Path) -> bool:
    """Whether a JSON file looks like a style rather than anything else this program writes; False when it cannot be read."""
    try:
        text = read_text(path, MAX_STYLE_BYTES, "a style")
    except OrthometError:
        return False
    return '"readings"' in text and '"points"' not in text
