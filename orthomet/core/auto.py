"""Points on a picture without a hand: find the faces, tell the turn, lay seeds, move them onto what the picture shows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from .errors import PictureError
from .imaging.faces import FaceFinder, Found, finder
from .imaging.refine import refine
from .kinds import Array
from .landmarks.mesh import CONTOUR, CONTOUR_YAW, crown_from_face, seeds, turn_of
from .landmarks.points import Landmarks, State, problem
from .landmarks.schema import FRONT
from .landmarks.turn import Turn
from .resolve import plan_of_style

TURNED = 6.0
"""Below these degrees a turn is not told from the network's own error, and the head counts as frontal (own)."""
WELL_BEYOND = 40.0
"""Beyond this yaw, degrees, half the features are hidden: the seeds are laid, but not moved onto the picture."""


@dataclass(frozen=True)
class Auto:
    """What was found: seeds (all estimated), the turn, which of the faces, and which points the picture moved."""

    marks: Landmarks
    turn: Turn
    faces: tuple[Found, ...]
    chosen: int
    moved: tuple[str, ...]
    sure: float

    @property
    def turned(self) -> Turn | None:
        """The turn worth undoing; ``None`` for a head that looks straight ahead as far as can be told."""
        t = self.turn
        return t if max(abs(t.yaw), abs(t.pitch)) > TURNED else None


def faces_on(rgb: Array, with_finder: FaceFinder | None = None) -> tuple[Found, ...]:
    """Faces on a picture, the largest first.

    Raises
    ------
    PictureError
        The network files are not installed.
    """
    found = (with_finder or finder()).detect(rgb)
    return tuple(sorted(found, key=lambda f: -f.box[2] * f.box[3]))


@cache
def seed_template() -> Array:
    """An ordinary adult's landmarks, head units, schema order: the norm drawn, with some hair and the pit of the neck."""
    out: Array = plan_of_style("measured-adult").points.copy()
    for name, xy in HAIR.items():
        out[FRONT.index[name]] = xy
    return out


HAIR = {"hair_top": (0.0, -0.05), "hair_side_l": (0.37, 0.28), "hair_side_r": (-0.37, 0.28), "suprasternale": (0.0, 1.30)}
"""Where hair and the pit of the neck usually are, head units (own)."""


def auto_landmarks(
    rgb: Array,
    which: int = 0,
    with_finder: FaceFinder | None = None,
    say: Callable[[str], bool] | None = None,
    faces: tuple[Found, ...] | None = None,
) -> Auto:
    """Seeds for one of the faces on a picture.

    Parameters
    ----------
    rgb
        The picture ``(h, w, 3)``, uint8.
    which
        Number of the face, 0 for the largest.
    say
        Told what is being done; returns False to stop.
    faces
        What :func:`faces_on` told of this picture already; looked for when not given.

    Raises
    ------
    PictureError
        No face, no such face, stopped, or the network files are not installed.
    """
    f = with_finder or finder()

    def go_on(words: str) -> None:
        if say is not None and not say(words):
            raise PictureError("Stopped.")

    if faces is None:
        go_on("Looking for a face…")
    found = faces_on(rgb, f) if faces is None else faces
    if not found:
        raise PictureError("No face was found on this picture. Place the points by hand: three clicks lay the rest.")
    if not 0 <= which < len(found):
        raise PictureError(f"There are {len(found)} faces on this picture; number {which + 1} is not one of them.")
    go_on("Laying the points…")
    mesh, sure = f.mesh(rgb, found[which])
    turn = turn_of(mesh)
    marks = seeds(mesh, turn, seed_template(), (rgb.shape[1], rgb.shape[0]))
    moved: dict[str, tuple[float, float]] = {}
    if abs(turn.yaw) < WELL_BEYOND:
        go_on("Moving them onto the picture…")
        moved = refine(rgb, marks.points)
        if abs(turn.yaw) > CONTOUR_YAW:
            moved = {n: xy for n, xy in moved.items() if n.rsplit("_", 1)[0] not in CONTOUR}
        marks = _moved(marks, moved, turn)
    return Auto(marks, turn, found, which, tuple(moved), sure)


def _moved(marks: Landmarks, moved: dict[str, tuple[float, float]], turn: Turn) -> Landmarks:
    """Seeds with the refined places; points that go with a moved one follow, and the crown is found again."""
    points = {**marks.points, **moved}
    for lead, followers in FOLLOW.items():
        if lead in moved and lead in marks.points:
            dx, dy = (moved[lead][i] - marks.points[lead][i] for i in (0, 1))
            for n, share in followers.items():
                if n in points and n not in moved:
                    points[n] = (points[n][0] + share * dx, points[n][1] + share * dy)
    for s in "lr":
        a, b = points.get(f"iris_medial_{s}"), points.get(f"iris_lateral_{s}")
        if f"iris_medial_{s}" in moved and a and b:
            c = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
            for n, end in (("pupil_medial", a), ("pupil_lateral", b)):
                points[f"{n}_{s}"] = (c[0] + 0.38 * (end[0] - c[0]), c[1] + 0.38 * (end[1] - c[1]))
    crown, loose = crown_from_face(points, turn)
    spread = dict(marks.spread)
    if crown is not None:
        points["vertex"], spread["vertex"] = crown, loose
    wide = (
        float(np.hypot(*np.subtract(points["zygion_l"], points["zygion_r"])))
        if "zygion_l" in points and "zygion_r" in points
        else 0.0
    )
    for n, share in SEED_SPREAD.items():
        for name in (n, f"{n}_l", f"{n}_r"):
            if name in points and name not in moved:
                spread[name] = max(spread.get(name, 0.0), share * wide)
    new = replace(marks, points=points, spread=spread, states=dict.fromkeys(points, State.ESTIMATED))
    return marks if problem(new) else new


SEED_SPREAD = {
    "endocanthion": 0.035, "exocanthion": 0.035, "palpebrale_superius": 0.027, "palpebrale_inferius": 0.027, "pupil": 0.01,
    "cheilion": 0.029, "alare": 0.023, "gnathion": 0.09, "brow_inner": 0.04, "brow_peak": 0.04, "brow_outer": 0.04,
    "zygion": 0.025, "gonion": 0.03, "trichion": 0.08,
}  # fmt: skip
"""How far a seed that found no edge of its own lies from the truth, one standard deviation in face widths (own: 90 painted
strangers)."""


FOLLOW: dict[str, dict[str, float]] = {
    "gnathion": {"sublabiale": 0.15, "chin_side_l": 0.5, "chin_side_r": 0.5},
    "stomion": {"labiale_superius": 1.0, "labiale_inferius": 1.0},
    "trichion": {"parting": 1.0},
    **{f"palpebrale_superius_{s}": {f"lid_crease_{s}": 1.0} for s in "lr"},
}
"""Points without an edge of their own move with the one they belong to, by a share of its way (own, tried on 90 painted portraits)."""
