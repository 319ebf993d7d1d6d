"""The drawn figure: strokes and tones at any turn, the head on it, construction, sheets."""

from __future__ import annotations

import numpy as np
import pytest
from shapely import contains_xy
from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from orthomet.core.features.choices import PLAIN
from orthomet.core.figure.build import Build, build_of
from orthomet.core.figure.canons import canon, canon_names, named
from orthomet.core.figure.construct import STEPS, construction
from orthomet.core.figure.density import density, told
from orthomet.core.figure.lines import inner_lines
from orthomet.core.figure.mannequin import Mannequin, mannequin
from orthomet.core.figure.scene import outlines, picture
from orthomet.core.figure.sheets import steps_sheet, views_sheet
from orthomet.core.head.body import Wear
from orthomet.core.ink.stroke import outline
from orthomet.core.ink.surface import Pen
from orthomet.core.kinds import Array
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.people import HeadOn, canon_wearing, head_of_canon, heads_with_hair, person, person_of_style, with_hair
from orthomet.core.picture import Ink, Text, Trace
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.plan.space import face_space
from orthomet.core.resolve import nothing_measured
from orthomet.core.styles.library import style, styles
from tests.bodies import crosses
from tests.poses import figure_of


def silhouette_of_masses(m: Mannequin, yaw: float) -> Polygon:
    """The union of every quad of every mass as it is seen, by Shapely: nothing of the drawing's own buffer."""
    v = rotation(Turn(yaw=yaw))
    shapes = []
    for s in m.skins.values():
        p = (s.points @ v.T)[..., :2]
        a, b = p[:-1], np.roll(p[:-1], -1, 1)
        c, d = np.roll(p[1:], -1, 1), p[1:]
        quads = np.stack([a, b, c, d], 2).reshape(-1, 4, 2)
        for q in quads:
            poly = Polygon(q)
            if poly.area > 1e-7:
                shapes.append(poly if poly.is_valid else poly.buffer(0))
    return unary_union(shapes)


def area_of(shapes: list[Array]) -> Polygon:
    """Closed outlines by the even–odd rule."""
    out = Polygon()
    for p in shapes:
        out = out.symmetric_difference(Polygon(p).buffer(0))
    return out


@pytest.mark.parametrize(
    ("name", "yaw"), [("measured", 0.0), ("feminine", 35.0), ("heroic", 90.0), ("two-heads", 20.0), ("rubber-limb", 180.0)]
)
def test_the_silhouette_is_shapelys_union_of_the_masses(name: str, yaw: float) -> None:
    f = figure_of(name, head=False)
    ours, theirs = area_of(outlines(f, Turn(yaw=yaw))), silhouette_of_masses(f.mannequin, yaw)
    assert ours.symmetric_difference(theirs).area < 0.025 * theirs.area


def test_contours_do_not_cross_themselves_and_nothing_stray_is_drawn() -> None:
    """All canons from four sides: strokes without a crossing, no contour shorter than a finger's width, no number that is none."""
    crossing = crumbs = total = 0
    for name in canon_names():
        f = figure_of(name)
        for yaw in (0.0, 40.0, 90.0, 180.0):
            s = f.at(Turn(yaw=yaw))
            for x in s.strokes:
                assert np.isfinite(x.points).all() and np.isfinite(x.widths).all() and (x.widths >= 0).all()
                total += 1
                if x.pen is Pen.CONTOUR:
                    crossing += crosses(x)
                    crumbs += float(np.hypot(*np.diff(x.points, axis=0).T).sum()) < 0.02
            assert all(len(p) > 3 and np.isfinite(p).all() for shapes in s.tones.values() for p in shapes)
    assert crossing <= 0.004 * total and crumbs == 0, (crossing, crumbs, total)


def test_the_outline_is_closed_by_lines() -> None:
    """Nine tenths and more of the silhouette's edge has a full line on it, from any side."""
    for name, yaw in (("measured", 0.0), ("feminine", 35.0), ("age:5", 90.0), ("big-foot", 180.0), ("lamplighter", -60.0)):
        f = figure_of(name, head=False)
        s = f.at(Turn(yaw=yaw))
        ink = unary_union(
            [Polygon(o).buffer(0) for x in s.strokes if x.pen is not Pen.STRAND for o in outline(x.points, x.widths)]
        ).buffer(0.02)
        edge = np.concatenate([p for p in s.silhouette if Polygon(p).area > 0.01])
        edge = edge[edge[:, 1] > 0.75]
        assert contains_xy(ink, edge[:, 0], edge[:, 1]).mean() > 0.93, (name, yaw)


def test_a_figure_stands_on_the_floor_and_its_crown_at_nothing() -> None:
    for name in ("measured", "slender", "big-foot", "two-circles"):
        f = figure_of(name)
        y = np.concatenate(outlines(f, Turn(yaw=30)))[:, 1]
        assert y.max() == pytest.approx(f.build.heads, abs=0.04) and y.min() < 0.03


def test_arms_swap_sides_and_the_front_is_seen_from_the_front_only() -> None:
    f = figure_of("masculine", head=False)
    front, back = ({x.name for x in f.at(Turn(yaw=yaw)).strokes} for yaw in (0.0, 180.0))
    assert {"pectoral", "knee cap", "collar bone"} <= front and {"spine", "fold of the seat", "shoulder blade"} <= back
    assert not {"pectoral", "collar bone"} & back and not {"spine", "fold of the seat"} & front


def test_detail_runs_from_few_lines_to_many_and_the_feminine_has_fewer() -> None:
    m, w = (mannequin(build_of(named()[n].readings, named()[n].form)) for n in ("masculine", "feminine"))
    counts = [len(inner_lines(m, d)) for d in (0.0, 0.3, 0.6, 1.0)]
    assert counts == sorted(counts) and counts[0] <= 4 and counts[-1] >= 35 and len(inner_lines(w, 1.0)) < counts[-1]
    assert all(np.isfinite(x.points).all() for x in inner_lines(m))


def test_line_density_is_told_when_body_and_head_differ() -> None:
    full, bare = figure_of("masculine"), person(
        build_of(named()["masculine"].readings, named()["masculine"].form.with_values({"detail": 0.0})), head_of_canon(named()["masculine"])
    )  # fmt: skip
    assert "about the same" in told(*density(full)) and "more detail here" in told(*density(bare))
    assert told(1.0, 0.0) == ""


# ---- the head on it


def test_the_head_on_top_is_the_planned_one_and_turns_on_its_neck() -> None:
    c = named()["feminine"]
    head = head_of_canon(c)
    b = build_of(c.readings, c.form)
    straight, turned = (person(b, head, Turn(yaw=y)) for y in (0.0, 60.0))
    a, z = straight.at(Turn()), turned.at(Turn())
    assert {x.name for x in z.head} != {x.name for x in a.head}
    body = [np.concatenate([x.points for x in s.strokes if x.points[:, 1].min() > 2.0]) for s in (a, z)]
    assert body[0].shape == body[1].shape and np.allclose(*body)  # below, nothing has moved
    eyes = [np.mean([p[:, 0].mean() for n, p in s.fills if "iris" in n]) for s in (a, z)]
    assert abs(eyes[0]) < 0.02 and eyes[1] > 0.1


def test_hair_hangs_before_the_neck_from_behind_and_behind_it_from_the_front() -> None:
    c = named()["feminine"]
    head = head_of_canon(c)
    f = person(build_of(c.readings, c.form), HeadOn(head.table, head.points, Wear(choices=with_hair(PLAIN, "long, centre part"))))
    nape = Point(0.0, 1.12)
    assert area_of(f.at(Turn(yaw=180)).tones["hair"]).contains(nape)
    front = f.at(Turn())
    assert not area_of(front.tones["hair"]).contains(nape) and area_of(front.tones["skin"]).contains(nape)


def test_counted_with_hair_a_head_is_larger() -> None:
    assert heads_with_hair(7.5, 0.0) == 7.5
    assert heads_with_hair(7.5, 0.1) == pytest.approx(7.6 / 1.1) and heads_with_hair(2.0, 0.1) < 2.0


def test_every_canon_wears_anybodys_head() -> None:
    head = head_of_canon(named()["two-heads"])
    for name in ("heroic", "age:1"):
        f = canon_wearing(canon(name), head)
        assert f.build.head_width == pytest.approx(head.table["head_width_hh"]) and f.at(Turn()).fills


@pytest.mark.parametrize("seed", [1, 2])
@pytest.mark.parametrize("name", canon_names())
def test_a_head_at_its_limits_sits_on_every_body(name: str, seed: int) -> None:
    rng = np.random.default_rng(seed)
    d = Decisions(style_weight=0.0, offsets={k: float(rng.uniform(-1, 1)) for k in face_space().keys})
    plan = make_plan(nothing_measured(), d, (), style("measured-adult"))
    assert plan.limits
    f = canon_wearing(canon(name), HeadOn(plan.table, plan.points, Wear(choices=with_hair(PLAIN, "bob"))))
    s = f.at(Turn(yaw=30))
    assert all(np.isfinite(x.points).all() and np.isfinite(x.widths).all() for x in (*s.strokes, *s.head)) and s.head
    big = [p for p in s.silhouette if len(p) > 3 and abs(Polygon(p).area) > 0.05]
    whole = max(big, key=lambda p: abs(Polygon(p).area))
    assert whole[:, 1].min() < 0.5 and whole[:, 1].max() > 0.95 * f.build.heads  # head and body are one shape
    assert f.quick.at(Turn(yaw=-60)).strokes


def test_built_in_styles_stand_as_whole_people() -> None:
    tall = {}
    for s in styles().values():
        f = person_of_style(s)
        seen = f.at(Turn(yaw=20))
        assert seen.strokes and seen.head and seen.tones["suit"]
        tall[s.name] = f.build.heads
    assert (
        tall["two-pebbles"] == pytest.approx(2, abs=0.01)
        and tall["sea-wall"] == pytest.approx(8.5, abs=0.01)
        and tall["reed-light"] == pytest.approx(7, abs=0.01)
    )


# ---- construction and sheets


def test_the_steps_are_the_artists_and_each_has_its_lines() -> None:
    f = figure_of("measured")
    steps = construction(f.mannequin, Turn(yaw=30))
    assert len(steps) == len(STEPS) == 8 and all(steps)
    b = f.build
    ((line,),) = [[g for g in steps[1] if g.role is Ink.TILT]]
    assert line.points[:, 1] == pytest.approx([b.shoulder_line] * 2)
    front = construction(f.mannequin, Turn())
    ribs = next(g for g in front[2] if g.name == "rib cage").points
    assert np.ptp(ribs[:, 0]) == pytest.approx(b.ribcage, rel=0.06)
    joints = {g.name for g in front[6]}
    assert {"elbow l", "knee r", "hip l", "hand r"} <= joints
    plumb = next(g for g in front[7] if g.name == "plumb line").points
    assert np.ptp(plumb[:, 0]) == 0 and plumb[-1, 1] == pytest.approx(b.heads)


def test_two_circles_are_a_school_of_the_body() -> None:
    """A small circle over a bigger one instead of rib cage and pelvis, at any turn, and a circle for the head."""
    f = figure_of("two-circles")
    for yaw in (0.0, 70.0):
        steps = construction(f.mannequin, Turn(yaw=yaw), f.school)
        upper, lower = (np.ptp(g.points[:, 0]) for g in steps[2])
        assert upper < lower and np.ptp(steps[0][0].points[:, 0]) == pytest.approx(1.0)


def test_the_ladder_counts_heads_with_their_halves() -> None:
    p = picture(figure_of("measured", head=False), guides=False)
    rungs = sorted(float(i.points[0, 1]) for i in p.layer("ladder").items if isinstance(i, Trace) and i.name.startswith("head"))
    assert rungs == [k / 2 for k in range(15)] and "7.5" in [i.words for i in p.layer("ladder").items if isinstance(i, Text)]


def test_four_views_stand_on_one_floor_and_steps_add_up() -> None:
    f = figure_of("feminine")
    sheet = views_sheet(f)
    words = [i.words for i in sheet.layer("names").items if isinstance(i, Text)]
    assert words == ["front", "three-quarter", "side", "back"]
    lines = [i for i in sheet.layer("body").items if isinstance(i, Trace)]
    wide = 2 * f.half
    for k in range(4):
        y = np.concatenate([i.points for i in lines if abs(i.points[:, 0].mean() - k * wide) < wide / 2])[:, 1]
        assert y.max() == pytest.approx(f.build.heads, abs=0.04)
    steps = steps_sheet(f)
    counts = [len(steps.layer(f"step-{k}").items) for k in range(1, 9)]
    assert counts[0] == 8 * len(construction(f.mannequin, Turn())[0]) and counts[-1] == len(construction(f.mannequin, Turn())[7])


def test_a_build_too_odd_for_a_body_still_draws() -> None:
    for b in (
        Build(neck_width=1.6),
        Build(shoulder=0.4, ribcage=1.6),
        Build(thigh_girth=1.4, hip=0.9),
        Build(heads=3.5),
        Build(foot=0.1, hand=0.05),
    ):
        s = person(b, None).at(Turn(yaw=25))
        assert all(np.isfinite(x.points).all() for x in s.strokes)
