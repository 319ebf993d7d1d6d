"""Floor and sides laid on a figure's outline: on the demo's painted figure, whose points are known exactly, and on grounds of our own."""

from __future__ import annotations

import json
from importlib import resources

import cv2
import numpy as np
import pytest

from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import named
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.figure.scene import outlines
from orthomet.core.imaging.figure import figure_edges
from orthomet.core.kinds import Array
from orthomet.core.landmarks.templates import lay, template
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.people import person

LEGS_AND_TRUNK = ("ribcage_side", "waist_side", "hip_side", "thigh_outer", "thigh_inner", "calf_outer", "calf_inner")
XY = tuple[float, float]


def painted() -> tuple[Array, dict[str, XY]]:
    folder = resources.files("orthomet.demo.assets")
    raw = np.frombuffer(folder.joinpath("lorn-figure.jpg").read_bytes(), np.uint8)
    image = cv2.cvtColor(cv2.imdecode(raw, cv2.IMREAD_COLOR), cv2.COLOR_BGR2RGB)  # type: ignore[call-overload]
    return image, {k: tuple(v) for k, v in json.loads(folder.joinpath("lorn-figure.json").read_text())["points"].items()}


def apart(points: dict[str, XY], truth: dict[str, XY], head: float) -> dict[str, float]:
    return {n: float(np.hypot(*(np.array(p) - truth[n]))) / head for n, p in points.items() if n in truth}


def test_three_clicks_and_the_outline_find_trunk_and_legs_on_the_painted_figure() -> None:
    """Truth: the points the figure was painted from. Estimates halve their error at the least, and are right within .035 of a head."""
    image, truth = painted()
    head = truth["gnathion"][1] - truth["vertex"][1]
    seeds = {
        n: (float(p[0]), float(p[1])) for n, p in lay("figure", {k: truth[k] for k in ("vertex", "gnathion", "floor")}).items()
    }
    found = figure_edges(image, seeds)
    before, after = apart(seeds, truth, head), apart(found.points, truth, head)
    mine = [n for n in after if n.rsplit("_", 1)[0] in LEGS_AND_TRUNK]
    assert len(mine) >= 12 and max(after[n] for n in mine) < 0.04
    assert np.mean([after[n] for n in mine]) < 0.4 * np.mean([before[n] for n in mine])


def drawn_on(ground: Array, yaw: float = 0.0) -> tuple[Array, dict[str, XY], float]:
    """The feminine canon filled on a ground, and where its template points would be clicked."""
    c = named()["feminine"]
    f = person(build_of(c.readings, c.form), None)
    k = ground.shape[0] / 9.0
    shift = np.array([ground.shape[1] / 2, 0.7 * k])
    image = ground.copy()
    cv2.fillPoly(image, [np.rint(p * k + shift).astype(np.int32) for p in outlines(f)], (60, 90, 120))
    cv2.ellipse(image, (int(shift[0]), int(shift[1] + 0.5 * k)), (int(0.33 * k), int(0.5 * k)), 0, 0, 360, (210, 170, 150), -1)
    xy = template(FIGURE)
    return image, {n: (float(x * k + shift[0]), float(y * k + shift[1])) for n, (x, y) in zip(FIGURE.names, xy, strict=True)}, k


@pytest.mark.parametrize("kind", ["plain", "ramp", "busy"])
def test_widths_are_those_of_the_drawn_figure_on_any_ground(kind: str) -> None:
    rng = np.random.default_rng(2)
    ground = np.full((720, 520, 3), (236, 232, 222), np.uint8)
    if kind == "ramp":
        ground = (np.linspace(120, 250, 720)[:, None, None] * np.ones((1, 520, 3))).astype(np.uint8)
    if kind == "busy":
        ground = cv2.GaussianBlur(rng.integers(120, 256, (720, 520, 3)).astype(np.uint8), (0, 0), 6)
        ground[..., 2] = 200
    image, points, k = drawn_on(ground)
    found = figure_edges(image, points).points
    m = mannequin(build_of(named()["feminine"].readings, named()["feminine"].form))
    for side in ("hip_side", "waist_side"):
        wide = (found[f"{side}_l"][0] - found[f"{side}_r"][0]) / k
        y = (found[f"{side}_l"][1] - 0.7 * k) / k
        grid = np.concatenate([s.points.reshape(-1, 3) for n, s in m.skins.items() if n == "torso" or n.startswith("leg")])
        row = grid[np.abs(grid[:, 1] - y) < 0.04]
        assert wide == pytest.approx(np.ptp(row[:, 0]), abs=0.06), (kind, side)


def test_bad_pictures_and_too_few_points_find_nothing() -> None:
    image, truth = painted()
    two = {k: truth[k] for k in ("vertex", "gnathion")}
    assert figure_edges(image, two).points == {} and figure_edges(image, {}).points == {}
    flat = np.full((300, 200, 3), 128, np.uint8)
    points = {n: (float(100 + 20 * x), float(20 + 30 * y)) for n, (x, y) in zip(FIGURE.names, template(FIGURE), strict=True)}
    assert all(np.isfinite(p).all() for p in figure_edges(flat, points).points.values())
    outside = {n: (x + 5000, y) for n, (x, y) in points.items()}
    assert figure_edges(flat, outside).points == {}
    assert figure_edges(np.zeros((4, 4, 3), np.uint8), points).points == {}
    assert figure_edges(image, {k: tuple(v) for k, v in truth.items()}, lambda _: False).points == {}  # stopped
