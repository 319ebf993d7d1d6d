"""The features of a face, the parameters each is drawn by, and named variants: a reviewed data file."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from importlib import resources

from ..datafiles import Record, parse
from ..errors import UnknownName


class Parameter(Record):
    """One dial of a feature. With ``options`` it is a choice, counted from ``low``."""

    key: str
    words: str
    tip: str
    low: float
    high: float
    default: float
    options: list[str] = []
    group: str = ""
    """What the dials from here on decide, as a heading."""
    when: dict[str, list[int]] = {}
    """Only asked where other choices of the feature stand at one of these."""

    def asked(self, values: Mapping[str, float]) -> bool:
        """Whether the decision matters, as the others stand."""
        return all(round(values[k]) in of for k, of in self.when.items())

    @property
    def counts(self) -> bool:
        """Whole numbers only: choices, and what is counted."""
        return bool(self.options) or self.high - self.low > 4


class Variant(Record):
    """A named set of values; what it does not name stands at the default."""

    name: str
    set: dict[str, float]


class Feature(Record):
    key: str
    words: str
    parameters: list[Parameter]
    variants: list[Variant]

    def parameter(self, key: str) -> Parameter | None:
        return next((p for p in self.parameters if p.key == key), None)

    def defaults(self) -> dict[str, float]:
        return {p.key: p.default for p in self.parameters}


class FeatureTable(Record):
    source: str
    features: list[Feature]


@cache
def feature_table() -> FeatureTable:
    text = resources.files("orthomet.core.features.data").joinpath("features.json").read_text(encoding="utf-8")
    return parse(FeatureTable, text, "features.json")


@cache
def features() -> dict[str, Feature]:
    """Every feature by key."""
    return {f.key: f for f in feature_table().features}


def feature(key: str) -> Feature:
    """A feature of the table.

    Raises
    ------
    UnknownName
    """
    if key not in features():
        raise UnknownName("feature", key, list(features()))
    return features()[key]
