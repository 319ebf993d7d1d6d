"""The stations in working order: one row each. A station's module is loaded, and its widgets built, when it is first looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from .base import Station


@dataclass(frozen=True)
class Entry:
    """A station's name on the rail, the keys that open it, its folder here and the class in it, and what it works on."""

    name: str
    keys: str
    folder: str
    station: str
    needs: Literal["", "character"] = ""
    """Without it the station stands still."""

    def load(self) -> type[Station]:
        found: type[Station] = getattr(import_module(f"{__package__}.{self.folder}"), self.station)
        return found


TABLE = (
    Entry("Reference", "Alt+1", "reference", "ReferenceStation"),
    Entry("Styles", "Alt+2", "styles", "StylesStation"),
    Entry("Plan", "Alt+3", "plan", "PlanStation", "character"),
    Entry("Head", "Alt+4", "head", "HeadStation", "character"),
    Entry("Figure", "Alt+5", "figure", "FigureStation", "character"),
    Entry("Shapes", "Alt+6", "shapes", "ShapesStation", "character"),
    Entry("Check", "Alt+7", "check", "CheckStation"),
    Entry("Sheet", "Alt+8", "sheet", "SheetStation"),
)


class Stations(Sequence["Station"]):
    """All stations by place; asking for one builds it."""

    def __init__(self, table: Sequence[Entry], build: Callable[[Entry], Station]):
        self.table, self._build = table, build
        self._built: dict[int, Station] = {}

    def __len__(self) -> int:
        return len(self.table)

    def __getitem__(self, k: int) -> Station:  # type: ignore[override]
        k = range(len(self.table))[k]
        if k not in self._built:
            self._built[k] = self._build(self.table[k])
        return self._built[k]

    def place(self, name: str) -> int:
        """Where a station stands on the rail."""
        return next(k for k, e in enumerate(self.table) if e.name == name)

    def named(self, name: str) -> Station:
        return self[self.place(name)]

    def built(self) -> Iterator[Station]:
        """Those that have been looked at."""
        yield from self._built.values()
