"""What the artist chooses for a character's body beside its readings: the canon, heads tall, the form."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from ..datafiles import Record
from ..landmarks.turn import Turn

FORM_BOUNDS = {
    "feminine": (0.0, 1.0), "muscle": (0.0, 1.6), "softness": (0.0, 1.0), "bust": (0.0, 1.2), "belly": (0.0, 2.6), "seat": (0.3, 1.6),
    "slope": (0.5, 1.6), "stance": (0.5, 2.5), "arms_out": (0.0, 40.0), "detail": (0.0, 1.0), "forearm_belly": (0.7, 1.5),
    "calf_belly": (0.7, 1.5), "chest_depth": (0.5, 1.1),
}  # fmt: skip
"""How far each quality of the form goes (own)."""
FEWEST, MOST = 1.5, 10.0
"""Heads tall a figure can be."""
BY_AGE = "age"


LEVEL = Turn()


class FigureChoices(Record):
    """A character's body as it is decided: everything not said here is the canon's."""

    canon: str = Field(BY_AGE, max_length=60)
    """``age``: the measured body of the character's age; ``age:N``; or a canon's name."""
    heads: float | None = Field(None, ge=FEWEST, le=MOST)
    """The canon at another number of heads, its widths and girths going along."""
    form: dict[str, float] = {}
    """Qualities of the form set by hand."""
    limbs: Literal["", "jointed", "rubber"] = ""
    meant: tuple[str, ...] = Field((), max_length=100)
    """Limits of the body that are not asked for again: the character is meant to break them."""
    head_turn: Turn = LEVEL
    """How the head is turned against the body."""

    @field_validator("form")
    @classmethod
    def _within(cls, v: dict[str, float]) -> dict[str, float]:
        for k, x in v.items():
            if k not in FORM_BOUNDS:
                raise ValueError(f"“{k[:40]}” is no quality of a figure's form")
            low, high = FORM_BOUNDS[k]
            if not low <= x <= high:
                raise ValueError(f"the {k.replace('_', ' ')} of a figure must lie between {low:g} and {high:g}")
        return v

    def still(self) -> FigureChoices:
        """The same with its head level: what a plan follows from."""
        return self.model_copy(update={"head_turn": LEVEL})


USUAL_FIGURE = FigureChoices()
