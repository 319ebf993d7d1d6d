"""Ink against what is known from elsewhere: a brute-force z-buffer, Shapely's buffers, SVG read back, spheres by geometry."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from orthomet.core.export.page import page
from orthomet.core.export.svg import to_svg
from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.table import feature
from orthomet.core.head.body import Body, Wear, body
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene_of
from orthomet.core.ink.contours import chains, traced
from orthomet.core.ink.drawing import drawn, sight
from orthomet.core.ink.shape import CENTRE, FORMS, Shape, stacked
from orthomet.core.ink.stroke import Stroke, Weights, fine, outline, outlines
from orthomet.core.ink.surface import Line, Pen, Stuff, Surface
from orthomet.core.ink.view import View, as_steps, buffered, cell_of
from orthomet.core.ink.weigh import weighed
from orthomet.core.kinds import Array
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink, Trace
from orthomet.demo.cast import BERTA, WICK

STYLES = {v.name: v.set for v in feature("hair").variants}


def dressed(style: str, table: dict[str, float] = BERTA) -> Body:
    return body(table, plan_points(table), Wear(choices=FeatureChoices().with_values("hair", STYLES[style])))


def ball(
    r: float = 0.5, centre: tuple[float, float, float] = (0, 0.5, 0), name: str = "ball", stuff: Stuff = Stuff.SKIN
) -> Surface:
    theta, phi = np.linspace(0, np.pi, 60)[:, None], np.linspace(-np.pi, np.pi, 90)[None]
    unit = np.stack([np.sin(theta) * np.sin(phi), -np.cos(theta) + 0 * phi, np.sin(theta) * np.cos(phi)], -1)
    return Surface(name, np.array(centre) + r * unit, unit, stuff, True)


# ---- contours


@pytest.mark.parametrize("distance", [None, 3.0])
@pytest.mark.parametrize("yaw, pitch", [(0, 0), (50, 20), (-140, -50), (90, 0)])
def test_a_balls_contour_is_the_circle_geometry_gives(yaw: float, pitch: float, distance: float | None) -> None:
    """From far away the circle itself; from near by R·D/√(D² − R²), and the whole of it is drawn, closed, at one weight."""
    shape = Shape((ball(0.4),))
    s = sight(shape, View(Turn(yaw=yaw, pitch=pitch), distance))
    (stroke,) = drawn(s, stacked((), shape)).strokes
    r = 0.4 if distance is None else 0.4 * distance / np.sqrt(distance**2 - 0.4**2)
    far = np.hypot(*stroke.points.T)
    np.testing.assert_allclose(far, r, atol=2.5e-3)
    assert stroke.closed and stroke.widths == pytest.approx(Weights().outer, rel=1e-6)
    turned = np.unwrap(np.arctan2(*np.diff(stroke.points, axis=0).T))
    assert np.abs(np.diff(turned)).max() < 0.06  # no corner anywhere: a facet would show at four times the size


def test_what_lies_before_hides_and_lines_end_on_what_covers_them() -> None:
    """A small ball before a large one: the large one's circle is whole, a line across it stops exactly at the small one's."""
    near = ball(0.15, (0.0, 0.5, 0.70), "near")
    t = np.linspace(-0.4, 0.4, 81)
    across = np.stack([t, np.full_like(t, 0.5), np.sqrt(0.25 - t**2)], -1)
    shape = Shape((ball(), near))
    s = sight(shape, View(Turn()))
    out = drawn(s, stacked([Line(across, Pen.EDGE, np.ones(81), "ball", name="across")], shape)).strokes
    lines = [x for x in out if x.name == "across"]
    ends = sorted(float(v) for x in lines for v in (x.points[0, 0], x.points[-1, 0]))
    assert len(lines) == 2 and ends[1:3] == pytest.approx([-0.15, 0.15], abs=2e-3)
    for x in lines:  # full where it runs under something, drawn out at its free end
        inner, outer = (0, -1) if abs(x.points[0, 0]) < abs(x.points[-1, 0]) else (-1, 0)
        assert x.widths[inner] > 2 * x.widths[outer]
    assert sum(x.name == "near" and x.closed for x in out) == 1 and sum(x.name == "ball" for x in out) == 1


def test_links_become_runs() -> None:
    assert sorted(map(len, chains(np.array([1, 2, 3, 9]), np.array([2, 3, 1, 8])))) == [2, 4]
    run = next(r for r in chains(np.array([5, 6, 7]), np.array([6, 7, 8])))
    assert run in ([5, 6, 7, 8], [8, 7, 6, 5])


def brute(shape: Shape, view: View, cells: float) -> tuple[Array, float]:
    """Depth of the nearest surface over a grid, ``cells`` a head, triangle by triangle: nothing of the ink's own buffer."""
    n = round(3.2 * cells)
    depth = np.full((n, n), -9.0)
    for s in shape.surfaces:
        q = np.moveaxis(view.seen((s.points.reshape(-1, 3) - CENTRE).T).reshape(3, *s.points.shape[:2]), 0, -1)
        a, b, c, d = q[:-1, :-1], q[:-1, 1:], q[1:, 1:], q[1:, :-1]
        for tri in (np.stack([a, b, c], -2), np.stack([a, c, d], -2)):
            for p in tri.reshape(-1, 3, 3):
                _triangle(depth, p, cells)
    return depth, cells


def _triangle(depth: Array, p: Array, cells: float) -> None:
    xy = (p[:, :2] + 1.6) * cells
    x0, y0 = np.floor(xy.min(0)).astype(int)
    x1, y1 = np.ceil(xy.max(0)).astype(int) + 1
    if x0 < 0 or y0 < 0 or x1 > depth.shape[1] or y1 > depth.shape[0]:
        return
    (ax, ay), (bx, by), (cx, cy) = xy
    area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
    if abs(area) < 1e-9:
        return
    y, x = np.mgrid[y0:y1, x0:x1] + 0.5
    u = ((x - ax) * (cy - ay) - (cx - ax) * (y - ay)) / area
    v = ((bx - ax) * (y - ay) - (x - ax) * (by - ay)) / area
    inside = (u >= -1e-6) & (v >= -1e-6) & (u + v <= 1 + 1e-6)
    z = p[0, 2] + u * (p[1, 2] - p[0, 2]) + v * (p[2, 2] - p[0, 2])
    block = depth[y0:y1, x0:x1]
    np.maximum(block, np.where(inside, z, -9.0), out=block)


@pytest.mark.parametrize("style, yaw, pitch", [("soft bob", 35, 0), ("two braids", -50, 15), ("skull only", 60, -20)])
def test_occlusion_is_that_of_a_brute_force_buffer(style: str, yaw: float, pitch: float) -> None:
    """Of contours' length, at most 0.5 % is judged otherwise than by triangles at four times the resolution."""
    shape, view = dressed(style).shape, View(Turn(yaw=yaw, pitch=pitch))
    c = traced(shape, view)
    assert c is not None
    ours = buffered(shape, view).lowest[cell_of(c.points[:, 0].astype(np.float32), c.points[:, 1].astype(np.float32))]
    seen = ours <= as_steps(c.points[:, 2] + 0.007)
    depth, cells = brute(shape, view, 400.0)
    i, j = (np.clip((c.points[:, k] + 1.6) * cells, 6, len(depth) - 7).astype(int) for k in (1, 0))

    def free(reach: int) -> Array:
        """Whether a sample is seen past everything within so many cells of it."""
        near = [depth[i + a, j + b] for a in range(-reach, reach + 1) for b in range(-reach, reach + 1)]
        return np.asarray(np.stack(near).min(0) <= c.points[:, 2] + 0.007)

    truly, nearly = free(1), free(5)
    step = np.append(np.hypot(*np.diff(c.points[:, :2], axis=0).T), 0.0)
    step[c.start[1:] - 1] = 0
    # an end is moved onto the crossing afterwards: samples beside a change of either are not asked
    change = np.zeros(len(seen), bool)
    for flags in (seen, truly):
        turn = np.append(flags[1:] != flags[:-1], False)
        change |= turn | np.roll(turn, 1) | np.roll(turn, -1)
    step[weighed(c, buffered(shape, view), shape, Weights()).width < 0.0012] = 0  # what would not be drawn anyway
    # within a cell of the edge of what covers it a line lies under that edge's own line: there either is right
    close = truly != nearly
    wrong = (seen != truly) & ~change & ~close
    assert 0.2 < truly.mean() < 0.98 and step[close].sum() < 0.08 * step.sum()
    assert step[wrong].sum() / step.sum() <= 0.005


# ---- strokes


def test_a_strokes_outline_has_the_area_of_shapelys_buffer() -> None:
    rng = np.random.default_rng(3)
    for _ in range(12):
        t = np.linspace(0, 1, 40)
        k = rng.normal(size=4) * 0.2
        p = np.column_stack([t + k[0] * np.sin(3 * t), k[1] * np.cos(4 * t) + k[2] * t**2])
        w = rng.uniform(0.01, 0.05)
        (ring,) = outline(p, np.full(40, w))
        smooth, _ = fine(p, np.full(40, w), 0.001)
        wanted = LineString(smooth).buffer(w / 2, quad_segs=32)
        mine = Polygon(ring).buffer(0)
        assert mine.symmetric_difference(wanted).area / wanted.area < 0.012


def test_a_tapering_stroke_fills_what_discs_along_it_fill() -> None:
    p = np.column_stack([np.linspace(0, 0.6, 50), 0.08 * np.sin(np.linspace(0, 4, 50))])
    w = 0.04 * np.sin(np.pi * np.linspace(0, 1, 50)) ** 0.8
    (ring,) = outline(p, w)
    smooth, wide = fine(p, w, 0.001)
    discs = unary_union([LineString(smooth[i : i + 2]).buffer(max(float(wide[i]), 1e-5) / 2) for i in range(len(smooth) - 1)])
    assert Polygon(ring).buffer(0).symmetric_difference(discs).area / discs.area < 0.03
    closed = outline(
        np.column_stack([np.cos(np.linspace(0, 2 * np.pi, 80)), np.sin(np.linspace(0, 2 * np.pi, 80))]), np.full(80, 0.1), True
    )
    assert [round(Polygon(q).area / np.pi, 2) for q in closed] == pytest.approx([0.95**2, 1.05**2], abs=0.02)
    assert outline(np.zeros((3, 2)), np.ones(3)) == [] and outline(np.zeros((1, 2)), np.ones(1)) == []


def _rings(d: str) -> list[Array]:
    return [np.array([[float(v) for v in q.split()] for q in part.rstrip("Z").split("L")]) for part in d.split("M")[1:]]


def test_svg_read_back_holds_the_strokes_or_their_centre_lines() -> None:
    """Filled outlines as wide as the strokes; with plain lines the strokes' own centres, and no tones."""
    s = scene_of(dressed("soft bob"), Turn(yaw=35))
    laid = page(picture(s, guides=False, hidden=False), 120)
    ns = {"s": "http://www.w3.org/2000/svg"}
    wanted = {x.name: x for x in laid.paths() if x.widths is not None}
    found = ET.fromstring(to_svg(laid)).findall(".//s:path", ns)
    filled = [p for p in found if p.get("fill-rule") == "nonzero"]
    assert len(filled) == sum(x.widths is not None for x in laid.paths()) and all(p.get("stroke") == "none" for p in filled)
    lid = next(p for p in filled if p.get("data-name") == "upper lid r")
    ring = Polygon(_rings(str(lid.get("d")))[0]).buffer(0)
    x = wanted["upper lid r"]
    assert x.widths is not None
    assert ring.area == pytest.approx(
        float(np.hypot(*np.diff(x.points, axis=0).T) @ ((x.widths[1:] + x.widths[:-1]) / 2)), rel=0.08
    )
    plain = ET.fromstring(to_svg(laid.centre_lines()))
    lines = [p for p in plain.findall(".//s:path", ns) if p.get("data-name") == "upper lid r"]
    np.testing.assert_allclose(_rings(str(lines[0].get("d")))[0], x.points, atol=6e-4)
    assert not [p for p in plain.findall(".//s:path", ns) if p.get("fill") != "none"]
    assert re.search(r"<g id=\"hair\">", to_svg(laid))


def test_the_four_weights_are_the_pens() -> None:
    """Outline against the ground heaviest, edges against something else next, features between, inner lines thinnest."""
    b = body(WICK, plan_points(WICK), Wear(choices=FeatureChoices().with_values("hair", STYLES["bowl"])))
    s = scene_of(b, Turn(yaw=30))
    most = {x.name: float(x.widths.max()) for x in s.drawing.strokes}
    w = Weights()
    assert max(most.values()) == pytest.approx(w.outer, rel=0.02) and most["upper lid r"] == pytest.approx(
        1.25 * w.feature, rel=0.05
    )
    assert max(v for k, v in most.items() if k == "strand") <= w.inner
    assert w.outer > w.edge > w.feature > w.inner > w.strand


def test_strokes_have_stuff_and_tones_are_closed() -> None:
    d = scene_of(dressed("knitted cap"), Turn(yaw=20)).drawing
    assert {x.stuff for x in d.strokes} == set(Stuff)
    for name, shapes in d.tones.items():
        for p in shapes:
            assert len(p) >= 8 and np.hypot(*(p[0] - p[-1])) < 0.05, name
    assert d.tones["hair"] and d.tones["wear"]
    assert isinstance(d.strokes[0], Stroke) and any(x.pen in FORMS for x in d.strokes)
    pictured = picture(scene_of(dressed("knitted cap"), Turn(yaw=20)))
    roles = {p.role for p in pictured.layer("hair").items if isinstance(p, Trace)}
    assert {Ink.HAIR, Ink.WEAR, Ink.CONTOUR} <= roles


def test_many_outlines_at_once_are_those_one_by_one() -> None:
    rng = np.random.default_rng(8)
    lines = []
    for k in range(50):
        n = 1 if k % 11 == 0 else int(rng.integers(3, 60))
        p = np.cumsum(rng.normal(0, 0.02, (n, 2)), 0)
        if k % 7 == 0 and n > 4:
            p[3] = p[2]  # a place said twice
        lines.append((p, rng.uniform(0, 0.02, n)))
    corners, count = outlines(lines, 0.004)
    one_by_one = [o[0] for p, w in lines if (o := outline(p, w, False, 0.004))]
    assert count.tolist() == [len(o) for o in one_by_one]
    assert np.allclose(corners, np.concatenate(one_by_one), atol=1e-9)
    assert outlines([])[1].tolist() == [] and outlines([(np.zeros((3, 2)), np.ones(3))])[1].tolist() == []
