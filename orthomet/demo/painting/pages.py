"""Pencil pages for Check: eight of one face with a drift, one of a turned head, one of a figure with a long forearm; faults known."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from orthomet.core.check.moves import BROW, EYE
from orthomet.core.check.turned import depths_of
from orthomet.core.figure.scene import picture as figure_picture
from orthomet.core.head.body import Wear
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene
from orthomet.core.head.turned import CENTRE
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.landmarks.views import SCHEMAS
from orthomet.core.people import HeadOn, person_of
from orthomet.core.picture import Ink, Picture, Trace
from orthomet.core.plan.figure import FigurePlan
from orthomet.core.plan.plan import Plan
from orthomet.core.pose.bones import posed
from orthomet.core.pose.marked import marked
from orthomet.core.pose.model import STANDING
from orthomet.core.resolve import Face

from .drawing import SMALL, pencil_face

Painted = tuple[Array, dict[str, tuple[float, float]]]
EYES_CREEP = -0.0042
"""Heads by which the eyes rise from page to page."""
ODD_PAGE, ODD_MOUTH = 5, 1.22
"""The page (from 1) whose mouth departs, and how much wider it is."""
INNER = ("stomion", "cheilion_l", "cheilion_r", "subnasale", "alare_l", "alare_r")
UNEVEN = 0.0016
"""Heads every landmark of a feature strays by: no hand draws both sides alike."""
UNSTEADY = 0.0022
"""Heads a page's landmarks stray by: the hand is not perfectly steady."""
EYES_HIGH, MOUTH_LOW = 0.032, 0.035
THREE_QUARTER = Turn(yaw=33.0, pitch=4.0, roll=-2.0)
FOREARM = 1.16
WEIGHTS = {Ink.CONTOUR: (0.42, 3, 3), Ink.FEATURE: (0.44, 3, 3), Ink.DETAIL: (0.26, 2, 2)}


def drifting_pages(plan: Plan, pages: int = 8) -> list[Painted]:
    """Pages of one planned face: its eyes creep up, one page's mouth is too wide."""
    out = []
    for k in range(pages):
        rng = np.random.default_rng(700 + k)
        table = dict(plan.table)
        for key in ("eye_station", "brow_station"):
            table[key] += EYES_CREEP * k + rng.normal(0, UNSTEADY)
        for key in ("nose_base_station", "mouth_station", "hairline_station"):
            table[key] += rng.normal(0, UNSTEADY)
        for key in ("mouth_width_fw", "nose_width_fw", "eye_width_fw", "jaw_width_fw"):
            table[key] *= float(np.exp(rng.normal(0, 0.012)))
        if k + 1 == ODD_PAGE:
            table["mouth_width_fw"] *= ODD_MOUTH
        points = plan_points(table)
        inside = [FRONT.index[f"{n}_{s}"] for n in (*EYE, *BROW) for s in "lr"] + [FRONT.index[n] for n in INNER]
        points[inside] += rng.normal(0, UNEVEN, (len(inside), 2))
        out.append(pencil_face(table, points, 700 + k, SMALL, 1.5 * (k % 3 - 1)))
    return out


def three_quarter(face: Face) -> Painted:
    """A head turned aside, its eyes and brows too high by :data:`EYES_HIGH`."""
    points = face.points.copy()
    for base in (*EYE, *BROW):
        points[[FRONT.index[f"{base}_l"], FRONT.index[f"{base}_r"]], 1] -= EYES_HIGH
    wear = Wear(face.chin_forward, face.choices, side=face.side)
    drawn = picture(scene(face.table, points, THREE_QUARTER, wear), guides=False, hidden=False)
    page = (900, 900, 560.0, 450.0, 470.0)
    xyz = depths_of(replace(face, points=points)).xyz
    seen = (xyz - CENTRE) @ rotation(THREE_QUARTER)[:2].T
    at = {n: (float(seen[i, 0]), float(seen[i, 1])) for n, i in FRONT.index.items() if np.isfinite(seen[i]).all()}
    return _pencil(drawn, at, page, 31)


def from_the_side(face: Face) -> Painted:
    """A head in profile, looking to the right, its mouth too low by :data:`MOUTH_LOW`."""
    table = {**face.table, "mouth_station": face.table["mouth_station"] + MOUTH_LOW}
    points = face.points + (plan_points(table) - plan_points(face.table))
    wear = Wear(face.chin_forward, face.choices, hair=False, side=face.side)
    turn = Turn(yaw=90.0)
    drawn = picture(scene(table, points, turn, wear), guides=False, hidden=False)
    xyz = depths_of(replace(face, table=table, points=points)).xyz
    seen = (xyz - CENTRE) @ rotation(turn)[:2].T
    at = {n: seen[FRONT.index[n]] for n in SCHEMAS["profile"].names if n in FRONT.index and n != "glabella"}
    at |= {n: seen[FRONT.index[f"{n}_r"]] for n in ("exocanthion", "brow_peak", "superaurale", "subaurale", "gonion")}
    outer = np.vstack([t.points for t in drawn.layer("outline").items if isinstance(t, Trace)])
    head = outer[outer[:, 1] < at["gnathion"][1]]
    chin = head[(head[:, 1] > at["sublabiale"][1]) & (head[:, 0] > 0)]
    at["opisthocranion"], at["pogonion"] = head[head[:, 0].argmin()], chin[chin[:, 0].argmax()]
    at["tragion"] = (at["superaurale"] + at["subaurale"]) / 2 + [0.02, 0.0]
    marks = {n: (float(x), float(y)) for n, (x, y) in at.items() if np.isfinite(x + y)}
    return _pencil(drawn, marks, (900, 900, 560.0, 430.0, 440.0), 35)


def long_armed(figure: FigurePlan, face: HeadOn) -> Painted:
    """A standing figure whose left forearm, and the hand with it, is too long by the factor :data:`FOREARM`."""
    f = person_of(figure, face)
    rest = f.mannequin.skeleton
    marks = marked(posed(rest, STANDING), Turn())
    drawn = figure_picture(f, Turn(), guides=False, tones=False).without("ladder")
    elbow, wrist, tip = (marks[f"{n}_l"] for n in ("radiale", "stylion", "dactylion"))
    way = (wrist - elbow) / np.linalg.norm(wrist - elbow)
    by = (FOREARM - 1) * float(np.linalg.norm(wrist - elbow))

    def longer(p: Array) -> Array:
        along = (p - elbow) @ way
        across = np.abs((p - elbow) @ np.array([-way[1], way[0]]))
        near = (across < 0.26) & (along > 0) & (along < float(np.linalg.norm(tip - elbow)) + 0.3) & (p[:, 0] > elbow[0] - 0.32)
        share = np.clip(along / float(np.linalg.norm(wrist - elbow)), 0, 1)
        return np.asarray(p + np.where(near, share * by, 0.0)[:, None] * way)

    layers = tuple(
        type(ly)(
            ly.id,
            ly.title,
            tuple(
                Trace(longer(i.points), i.role, i.closed, i.filled, i.name, i.widths) for i in ly.items if isinstance(i, Trace)
            ),
        )
        for ly in drawn.layers
    )
    at = {n: (float(x), float(y)) for n, (x, y) in marks.items()}
    for n in ("stylion_l", "dactylion_l"):
        x, y = np.array(at[n]) + by * way
        at[n] = (float(x), float(y))
    tall = figure.build.heads
    px = 1180 / (tall + 0.5)
    return _pencil(Picture(layers, drawn.box), at, (620, 1240, px, 310.0, 30.0 + 0.25 * px), 33)


def _pencil(drawn: Picture, at: dict[str, tuple[float, float]], page: tuple[int, int, float, float, float], seed: int) -> Painted:
    """A picture's lines in pencil on paper: ``page`` is width, height, pixels a head, and where its origin lies."""
    w, h, px, x0, y0 = page
    rng = np.random.default_rng(seed)
    graphite = np.zeros((h, w))

    def stroke(p: Array, weight: float, width: int, passes: int) -> None:
        for _ in range(passes):
            drift = np.cumsum(rng.normal(0, 0.0002, p.shape), axis=0) + rng.normal(0, 0.0012, 2)
            q = np.round(((p + drift) * px + [x0, y0]) * 16).astype(np.int32)
            m = np.zeros((h, w), np.uint8)
            cv2.polylines(m, [q], False, 255, width, cv2.LINE_AA, 4)
            graphite[:] = 1 - (1 - graphite) * (1 - weight * rng.uniform(0.7, 1.1) * m / 255.0)

    for t in drawn.paths():
        if t.filled and t.role in (Ink.DARK, Ink.PUPIL, Ink.TONE):
            m = np.zeros((h, w), np.uint8)
            cv2.fillPoly(m, [np.round((t.points * px + [x0, y0]) * 16).astype(np.int32)], 255, cv2.LINE_AA, 4)
            shade = cv2.GaussianBlur(m / 255.0, (0, 0), 1.0)
            graphite[:] = 1 - (1 - graphite) * (1 - (0.38 if t.role is Ink.TONE else 0.75) * shade)
        elif not t.filled and t.role in WEIGHTS and len(t.points) > 1:
            stroke(np.vstack([t.points, t.points[:1]]) if t.closed else t.points, *WEIGHTS[t.role])
    paper = np.array([0.955, 0.94, 0.905]) * (1 + 0.012 * cv2.GaussianBlur(rng.standard_normal((h, w)), (0, 0), 1.2)[..., None])
    tooth = 0.82 + 0.36 * cv2.GaussianBlur(rng.random((h, w)), (0, 0), 0.9)
    ink = np.clip(graphite * tooth, 0, 1)[..., None]
    out = np.clip(paper * (1 - ink) + np.array([0.20, 0.20, 0.22]) * ink, 0, 1)
    return (out * 255).astype(np.uint8), {n: (x * px + x0, y * px + y0) for n, (x, y) in at.items()}
