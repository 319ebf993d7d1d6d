"""Which landmarks a view has, in placing order, with the artist's word for each.

Anthropometry's names (Farkas 1994; Kolar & Salter 1997) in code; the artist's words on screen. ``_l`` and ``_r`` are the
character's own left and right: in a front picture ``_l`` stands at the larger x.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..kinds import Array


@dataclass(frozen=True)
class Landmark:
    """One named point. ``base`` is the name without its side; ``side`` is ``"l"``, ``"r"`` or ``""``."""

    name: str
    words: str
    group: str
    essential: bool = False

    @property
    def side(self) -> str:
        return self.name[-1] if self.name[-2:] in ("_l", "_r") else ""

    @property
    def base(self) -> str:
        return self.name[:-2] if self.side else self.name

    @property
    def partner(self) -> str:
        """The mirror partner's name; the point itself on the midline."""
        return self.base + ("_r" if self.side == "l" else "_l") if self.side else self.name


@dataclass(frozen=True)
class Schema:
    view: str
    landmarks: tuple[Landmark, ...]
    may_touch: frozenset[frozenset[str]] = field(default_factory=frozenset)
    """Pairs of points that may lie on one spot: closed lids, touching eyes, a lip drawn as one line."""

    @cached_property
    def names(self) -> tuple[str, ...]:
        return tuple(m.name for m in self.landmarks)

    @cached_property
    def index(self) -> dict[str, int]:
        return {n: i for i, n in enumerate(self.names)}

    @cached_property
    def essential(self) -> tuple[str, ...]:
        return tuple(m.name for m in self.landmarks if m.essential)

    @cached_property
    def mirror(self) -> tuple[int, ...]:
        """For each landmark the index of its mirror partner."""
        return tuple(self.index[m.partner] for m in self.landmarks)

    @cached_property
    def must_differ(self) -> Array:
        """Pairs ``(i, j)``, i < j, that may not lie on one spot."""
        n = len(self.names)
        out = np.triu(np.ones((n, n), bool), 1)
        for a, b in self.may_touch:
            i, j = sorted((self.index[a], self.index[b]))
            out[i, j] = False
        return out

    def __getitem__(self, name: str) -> Landmark:
        return self.landmarks[self.index[name]]

    def plus(self, own: Iterable[Landmark]) -> Schema:
        """The same view with the artist's own points behind its landmarks; they may touch anything but each other."""
        extra = tuple(own)
        if not extra:
            return self
        loose = {frozenset((m.name, n)) for m in extra for n in self.names}
        return Schema(self.view, (*self.landmarks, *extra), self.may_touch | loose)


def _front() -> Schema:
    mid = [
        ("vertex", "crown", "Head", True),
        ("gnathion", "chin", "Head", True),
        ("trichion", "hairline", "Head", True),
        ("subnasale", "nose base", "Nose", True),
        ("stomion", "mouth line", "Mouth", True),
        ("glabella", "between the brows", "Head", False),
        ("nasion", "nose root", "Nose", False),
        ("pronasale", "nose tip", "Nose", False),
        ("labiale_superius", "upper lip's edge", "Mouth", False),
        ("labiale_inferius", "lower lip's edge", "Mouth", False),
        ("sublabiale", "fold under the lip", "Mouth", False),
        ("hair_top", "top of the hair", "Hair", False),
        ("parting", "parting", "Hair", False),
        ("suprasternale", "pit of the neck", "Neck", False),
    ]
    paired = [
        ("endocanthion", "eye, inner corner", "Eyes", True),
        ("exocanthion", "eye, outer corner", "Eyes", True),
        ("brow_peak", "brow peak", "Eyes", True),
        ("alare", "nostril wing", "Nose", True),
        ("cheilion", "mouth corner", "Mouth", True),
        ("zygion", "cheek, widest", "Head", True),
        ("gonion", "jaw corner", "Head", True),
        ("palpebrale_superius", "upper lid", "Eyes", False),
        ("palpebrale_inferius", "lower lid", "Eyes", False),
        ("lid_crease", "lid crease", "Eyes", False),
        ("pupil", "pupil", "Eyes", False),
        ("iris_medial", "iris, inner edge", "Eyes", False),
        ("iris_lateral", "iris, outer edge", "Eyes", False),
        ("pupil_medial", "pupil, inner edge", "Eyes", False),
        ("pupil_lateral", "pupil, outer edge", "Eyes", False),
        ("brow_inner", "brow, inner end", "Eyes", False),
        ("brow_outer", "brow, outer end", "Eyes", False),
        ("brow_lower_peak", "brow peak, lower edge", "Eyes", False),
        ("euryon", "skull, widest", "Head", False),
        ("frontotemporale", "temple", "Head", False),
        ("chin_side", "chin, side", "Head", False),
        ("superaurale", "ear top", "Ears", False),
        ("subaurale", "ear bottom", "Ears", False),
        ("neck_side", "neck, side", "Neck", False),
        ("hair_side", "hair, widest", "Hair", False),
    ]
    marks = [Landmark(n, w, g, e) for n, w, g, e in mid]
    for n, w, g, e in paired:
        marks += [Landmark(f"{n}_l", f"left {w}", g, e), Landmark(f"{n}_r", f"right {w}", g, e)]
    marks.sort(key=lambda m: not m.essential)  # stable: essential ones are placed first
    touch = [
        ("labiale_superius", "stomion"), ("stomion", "labiale_inferius"), ("labiale_inferius", "sublabiale"),
        ("glabella", "nasion"), ("pronasale", "subnasale"), ("hair_top", "vertex"), ("parting", "trichion"),
        ("parting", "hair_top"), ("parting", "vertex"), ("endocanthion_l", "endocanthion_r"),
        ("brow_inner_l", "brow_inner_r"),
    ]  # fmt: skip
    sided = [
        ("palpebrale_superius", "palpebrale_inferius"), ("lid_crease", "palpebrale_superius"),
        ("brow_peak", "brow_lower_peak"), ("brow_peak", "brow_inner"), ("brow_peak", "brow_outer"),
        ("zygion", "euryon"), ("euryon", "hair_side"), ("zygion", "hair_side"), ("zygion", "superaurale"),
        ("zygion", "subaurale"), ("gonion", "subaurale"), ("gonion", "neck_side"), ("gonion", "chin_side"),
        ("euryon", "frontotemporale"), ("euryon", "superaurale"), ("brow_outer", "frontotemporale"),
        ("zygion", "frontotemporale"), ("pupil", "palpebrale_superius"), ("pupil", "palpebrale_inferius"),
        ("endocanthion", "iris_medial"), ("exocanthion", "iris_lateral"),
        ("iris_medial", "pupil_medial"), ("iris_lateral", "pupil_lateral"),
    ]  # fmt: skip
    touch += [(f"{a}_{s}", f"{b}_{s}") for a, b in sided for s in "lr"]
    return Schema("front", tuple(marks), frozenset(frozenset(t) for t in touch))


FRONT = _front()
