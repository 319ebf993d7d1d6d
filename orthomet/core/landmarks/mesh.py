"""From the mesh network's 468 points to a head's turn and to seeds of landmarks.

Turn: the rotation that best lays the network's answer on a level face over its answer here (Kabsch, *Acta Cryst.* A32, 1976),
by points of the face's rim, which expression hardly moves. Seeds: mesh points that are landmarks, and an ordinary adult's face in that turn laid
through them for all the others. The crown comes from the norm and the face below it.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from ..datafiles import Record, load_folder
from ..kinds import Array, there
from .points import Landmarks, State
from .schema import FRONT
from .turn import Turn, angles, rotation, usual_depths

SPREAD_DEG = 2.5
"""How well the network tells a turn up to 35° of yaw, one standard deviation (own measurement on the demo's paintings)."""


YAW_GAIN, PITCH_GAIN = 1.17, 1.40
"""The network under-reads turns, as it does every departure from the average (own measurement on the demo's paintings,
turned by known angles)."""


YAW_ZERO, PITCH_ZERO, ROLL_ZERO = 0.1, 1.05, -0.465
"""What it tells of a level head, degrees (own measurement, as above)."""
YAW_COUPLING, ROLL_COUPLING = -0.004, -0.0044
"""Yaw and roll it adds where a head is both turned and tilted, degrees a square degree: an out-of-plane turn that is under-read
leaves a rest in the others. All of these are fitted to the same 195 turned paintings, so that those seen level stay within 4° of
yaw and pitch and 2° of roll (own)."""


class MeshTable(Record):
    name: str
    source: str
    landmarks: dict[str, tuple[int, ...]]
    """Landmark → the mesh points whose middle it is; the character's own sides."""
    rigid: tuple[int, ...]
    """Mesh points of the face's rim and the forehead."""
    level: tuple[tuple[float, float, float], ...]
    """The rigid points on a level face: x right, y down, z toward the viewer, any scale."""


@cache
def mesh_table() -> MeshTable:
    return load_folder("orthomet.core.landmarks.data", MeshTable)["mesh"]


@cache
def _rigid() -> tuple[Array, Array]:
    """Numbers of the rigid points, and where they lie on a level face."""
    t = mesh_table()
    return np.array(t.rigid), np.array(t.level)


@cache
def _middles() -> tuple[tuple[str, ...], Array, Array, Array]:
    """The landmarks' names, all their mesh points in a row, where in it each one's begin, and how many they are."""
    own = mesh_table().landmarks
    counts = np.array([len(k) for k in own.values()])
    return tuple(own), np.concatenate([np.array(k) for k in own.values()]), np.cumsum(counts) - counts, counts


def _known(mesh: Array) -> dict[str, Array]:
    """Landmarks that are mesh points, or the middle of some."""
    names, at, starts, counts = _middles()
    return dict(zip(names, np.add.reduceat(mesh[at, :2], starts) / counts[:, None], strict=True))


def kabsch(p: Array, q: Array) -> Array:
    """The rotation ``(3, 3)`` that best takes centred points ``p`` to ``q``, both ``(n, 3)``."""
    a, b = p - p.mean(0), q - q.mean(0)
    u, _, vt = np.linalg.svd(b.T @ a)
    d = np.sign(np.linalg.det(u @ vt))
    return np.asarray(u @ np.diag([1.0, 1.0, d]) @ vt)


def turn_of(mesh: Array) -> Turn:
    """How the head is turned, from mesh points ``(468, 3)``, z away from the viewer."""
    rigid, level = _rigid()
    yaw, pitch, roll = angles(kabsch(level, mesh[rigid] * np.array([1.0, 1.0, -1.0])))
    yaw, pitch = float(np.clip(yaw * YAW_GAIN, -99, 99)), float(np.clip(pitch * PITCH_GAIN - PITCH_ZERO, -79, 79))
    both = yaw * pitch
    roll -= ROLL_ZERO + ROLL_COUPLING * both
    yaw = float(np.clip(yaw - YAW_ZERO - YAW_COUPLING * both, -99, 99))
    return Turn(yaw=round(yaw, 2), pitch=round(pitch, 2), roll=round(roll, 2), spread=SPREAD_DEG)


CONTOUR = ("zygion", "gonion", "hair_side")
"""Pairs that a picture shows by its outline: on a turned head that is the edge of what is seen, and no landmark."""
CONTOUR_YAW = 8.0
"""Degrees of yaw beyond which the outline is no landmark any more: by then it leaves the cheek by 2 % of the head (own: the solid)."""
CONTOUR_SPREAD = 0.022
"""How well the network tells such a point of a turned head, one standard deviation in heads (own, over turned paintings)."""


TOLD_IN_DEPTH = 0.2
"""How far a turned pair's width follows what the network tells in depth (own, over turned paintings and an independent solid)."""


def _narrowed(mesh: Array, turn: Turn, known: dict[str, Array]) -> dict[str, Array]:
    """Cheeks and jaw corners of a turned head as they would lie on it.

    What the network draws on the picture follows the visible edge (the demo's sitters come out 2 % too wide at 35°), what it
    tells in depth the average face (3 % too narrow): a pair's width lies between the two.
    """
    out: dict[str, Array] = {}
    back = rotation(turn).T
    for base in ("zygion", "gonion"):
        a, b = (mesh[list(mesh_table().landmarks[f"{base}_{s}"])].mean(0) * [1.0, 1.0, -1.0] for s in "lr")
        flat, deep = abs(float((a - b)[0])), abs(float((back @ (a - b))[0])) * float(np.cos(np.radians(turn.yaw)))
        k = float(np.clip(1 + TOLD_IN_DEPTH * (deep / max(flat, 1e-6) - 1), 0.8, 1.1))
        left, right = known[f"{base}_l"], known[f"{base}_r"]
        middle = (left + right) / 2
        out |= {f"{base}_l": middle + k * (left - middle), f"{base}_r": middle + k * (right - middle)}
    return known | out


def seeds(mesh: Array, turn: Turn, template: Array, size: tuple[int, int] | None = None) -> Landmarks:
    """Estimated landmarks of the front view on the picture, all of them *estimated*.

    Parameters
    ----------
    mesh
        Mesh points ``(468, 3)``, picture pixels.
    template
        An ordinary face, head units, schema order; its depths are the usual ones.
    """
    known = _known(mesh)
    turned = CONTOUR_YAW < abs(turn.yaw) < 80
    if turned:
        known = _narrowed(mesh, turn, known)
    solid = np.column_stack([template, usual_depths()]) @ rotation(turn).T
    flat = solid[:, :2]
    names = [n for n in FRONT.names if n in known]
    at = np.array([FRONT.index[n] for n in names])
    seen = np.array([known[n] for n in names])
    ok = there(flat[at])
    laid = _lay(flat, at[ok], seen[ok])
    spread: dict[str, float] = {}
    points = {n: (float(x), float(y)) for n, (x, y) in zip(FRONT.names, laid, strict=True) if np.isfinite(x)}
    points |= {n: (float(p[0]), float(p[1])) for n, p in known.items()}
    if turned:
        head = float(np.hypot(*(np.subtract(points["gnathion"], points["vertex"]))))
        spread = {f"{b}_{s}": CONTOUR_SPREAD * head for b in CONTOUR for s in "lr" if f"{b}_{s}" in points}
    crown, loose = crown_from_face(points, turn)
    if crown is not None:
        shift = (crown[0] - points["vertex"][0], crown[1] - points["vertex"][1])
        for n in ("vertex", "hair_top", "parting"):
            if n in points:
                points[n] = (points[n][0] + shift[0], points[n][1] + shift[1])
        spread["vertex"] = loose
    return Landmarks("front", points, dict.fromkeys(points, State.ESTIMATED), spread, size)


def _lay(template: Array, at: Array, seen: Array) -> Array:
    """The template through known points: a similarity, then the residuals by inverse distance (Shepard 1968, power 3)."""
    from .register import fit

    to_picture = fit(template[at], seen)
    rest = to_picture.inverse()(seen) - template[at]
    far = np.linalg.norm(template[:, None] - template[at][None], axis=2)
    weight = 1 / np.maximum(far, 0.02) ** 3
    return to_picture(template + (weight @ rest) / weight.sum(1, keepdims=True))


EYE_STATION, EYE_SPREAD = 0.505, 0.020
"""The adult norm's eye station; the crown is found above the eyes by it."""


def crown_from_face(points: dict[str, tuple[float, float]], turn: Turn) -> tuple[tuple[float, float] | None, float]:
    """Where the crown lies by the adult norm, from eyes and chin, and its spread in pixels (one standard deviation).

    Along the face's own axis: chin − eyes is 1 − 0.505 heads; the norm's spread of the eye station is what is uncertain.
    """
    eyes = [points[f"{b}_{s}"] for b in ("endocanthion", "exocanthion") for s in "lr" if f"{b}_{s}" in points]
    if len(eyes) < 4 or "gnathion" not in points:
        return None, 0.0
    middle, chin = np.mean(eyes, axis=0), np.array(points["gnathion"])
    z = usual_depths()
    r = rotation(turn)

    def flat(y: float, depth: float) -> Array:
        return np.asarray((r @ np.array([0.0, y, depth]))[:2])

    eye_z = float(np.mean([z[FRONT.index[n]] for n in ("endocanthion_l", "exocanthion_l")]))
    unit = flat(1.0, z[FRONT.index["gnathion"]]) - flat(EYE_STATION, eye_z)
    up = flat(0.0, z[FRONT.index["vertex"]]) - flat(EYE_STATION, eye_z)
    k = float(np.linalg.norm(chin - middle)) / max(float(np.linalg.norm(unit)), 1e-6)
    crown = middle + up * k
    return (float(crown[0]), float(crown[1])), k * EYE_SPREAD / (1 - EYE_STATION)
