"""Start anywhere: one feature is drawn already, at some size; the rest is laid out from it at the paper's scale."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import FormatError, UnknownName
from ..kinds import Array
from ..landmarks.schema import FRONT

SMALLEST, LARGEST = 10.0, 2000.0
"""Head heights that go on paper, mm."""


@dataclass(frozen=True)
class Measure:
    """A length that can be drawn first: its words, the landmarks it runs between, and whether across or down."""

    words: str
    ends: tuple[str, str]
    across: bool


STARTS = {
    "head": Measure("Head, crown to chin", ("vertex", "gnathion"), False),
    "face": Measure("Face width", ("zygion_l", "zygion_r"), True),
    "eye": Measure("One eye, corner to corner", ("exocanthion_l", "endocanthion_l"), True),
    "eyes": Measure("Outer corners apart", ("exocanthion_l", "exocanthion_r"), True),
    "brow-mouth": Measure("Brow to mouth", ("brow_peak_l", "stomion"), False),
    "nose": Measure("Nose, root to base", ("nasion", "subnasale"), False),
    "mouth": Measure("Mouth width", ("cheilion_l", "cheilion_r"), True),
    "chin": Measure("Mouth to chin", ("stomion", "gnathion"), False),
    "ear": Measure("Ear, top to lobe", ("superaurale_l", "subaurale_l"), False),
}


def heads_of(name: str, points: Array) -> float:
    """How many heads long a feature of a plan is, from its landmarks in head units, schema order.

    Raises
    ------
    UnknownName, FormatError
    """
    if name not in STARTS:
        raise UnknownName("feature to start from", name, list(STARTS))
    m = STARTS[name]
    a, b = (points[FRONT.index[n]] for n in m.ends)
    length = abs(float(a[0] - b[0] if m.across else a[1] - b[1]))
    if not length > 1e-6:
        raise FormatError(f"{m.words} has no length here; start from another feature.")
    return length


def head_height(name: str, size_mm: float, points: Array) -> float:
    """Height of the head, mm, when one feature is drawn ``size_mm`` long.

    Raises
    ------
    UnknownName, FormatError
        No such feature, or a head that would not fit any paper.
    """
    height = size_mm / heads_of(name, points)
    if not SMALLEST <= height <= LARGEST:
        raise FormatError(f"{STARTS[name].words} of {size_mm:g} mm makes a head of {height:.0f} mm; it runs from 10 to 2000 mm.")
    return height
