"""How a character's features are drawn: values of parameters, what is absent by design, marks on the face."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import Field, field_validator

from ..datafiles import Record
from ..errors import quoted
from .table import feature, features

MAX_MARKS = 60


class FaceMark(Record):
    """A detail no ruler sees: freckles, a mole, a scar. ``x`` and ``station`` in heads, x toward the character's left."""

    name: str = Field(min_length=1, max_length=60)
    kind: Literal["freckles", "mole", "scar", "lines"] = "freckles"
    x: float = Field(0.0, ge=-0.6, le=0.6)
    station: float = Field(0.6, ge=0.02, le=0.98)
    size: float = Field(0.06, gt=0, le=0.6)
    """Width of the patch, the mole or the scar, in heads."""
    count: int = Field(7, ge=1, le=60)
    """How many: counted, so that a drawing can be held to it."""
    slant: float = Field(0.0, ge=-180, le=180)
    """Degrees, of a scar or lines."""
    both: bool = False
    """On both sides of the face."""


class FeatureChoices(Record):
    """Values by feature and parameter where they are not the default, features left out, marks."""

    values: dict[str, dict[str, float]] = {}
    absent: tuple[str, ...] = Field((), max_length=60)
    """Features absent by design."""
    marks: tuple[FaceMark, ...] = Field((), max_length=MAX_MARKS)

    @field_validator("values")
    @classmethod
    def _known_values(cls, v: dict[str, dict[str, float]]) -> dict[str, dict[str, float]]:
        for f, row in v.items():
            if f not in features():
                raise ValueError(f"{quoted(f)} is not a feature")
            for key, x in row.items():
                p = feature(f).parameter(key)
                if p is None:
                    raise ValueError(f"the {f} have no parameter {quoted(key)}")
                if not p.low <= x <= p.high:
                    raise ValueError(f"{p.words.lower()} runs from {p.low:g} to {p.high:g}")
        return v

    @field_validator("absent")
    @classmethod
    def _known_features(cls, v: tuple[str, ...]) -> tuple[str, ...]:
        for f in v:
            if f not in features():
                raise ValueError(f"{quoted(f)} is not a feature")
        return v

    def of(self, key: str) -> Mapping[str, float]:
        """Every parameter of a feature."""
        return {**feature(key).defaults(), **self.values.get(key, {})}

    def drawn(self, key: str) -> bool:
        return key not in self.absent

    def with_value(self, key: str, parameter: str, value: float) -> FeatureChoices:
        return self.with_values(key, {**self.values.get(key, {}), parameter: value})

    def with_values(self, key: str, row: Mapping[str, float]) -> FeatureChoices:
        """A feature drawn by these values; what stands at its default is not kept."""
        f = feature(key)
        kept = {k: float(x) for k, x in row.items() if (p := f.parameter(k)) is None or abs(x - p.default) > 1e-9}
        rest = {k: r for k, r in self.values.items() if k != key}
        return FeatureChoices(values={**rest, key: kept} if kept else rest, absent=self.absent, marks=self.marks)

    def variant_of(self, key: str) -> str:
        """Name of the variant the values make up, or an empty string."""
        here = self.values.get(key, {})
        for v in feature(key).variants:
            wanted = {k: x for k, x in v.set.items() if abs(x - feature(key).defaults()[k]) > 1e-9}
            if wanted == here:
                return v.name
        return ""

    def with_absent(self, key: str, gone: bool) -> FeatureChoices:
        rest = tuple(k for k in self.absent if k != key)
        return FeatureChoices(values=self.values, absent=(*rest, key) if gone else rest, marks=self.marks)

    def with_marks(self, marks: tuple[FaceMark, ...]) -> FeatureChoices:
        return FeatureChoices(values=self.values, absent=self.absent, marks=marks)


PLAIN = FeatureChoices()
