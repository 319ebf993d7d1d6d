"""Cures on the drawing: the feature lands where it should, nothing else stirs; and as a redline."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from itertools import combinations, pairwise

import cv2
import numpy as np
import pytest
from scipy.optimize import lsq_linear

from orthomet.core.check.check import _moves_of, check
from orthomet.core.check.compare import How, compare
from orthomet.core.check.cures import CLOSE_CALL, curable, cures, pointers
from orthomet.core.check.fix import HALF, LEFT_OVER, POINT_PRICE, PRICE, smallest_fix
from orthomet.core.check.greedy import followed, ready
from orthomet.core.check.rows import Rows, face_rows, lengths, style_spreads, tolerances
from orthomet.core.check.turned import depths_of
from orthomet.core.cure.groups import anatomy, moving, step_map
from orthomet.core.cure.lift import Lift
from orthomet.core.cure.preview import preview
from orthomet.core.cure.redline import as_page, redline
from orthomet.core.cure.warp import Warp
from orthomet.core.export.svg import to_svg
from orthomet.core.head.points import plan_points
from orthomet.core.head.turned import CENTRE
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.live.carry import begin, carry
from orthomet.core.picture import Ink, Text
from orthomet.core.resolve import Face
from orthomet.core.styles.library import Style, StyleRow
from tests.edited import GROUPS, InTheMaking, similarity
from tests.faces import as_picture, face

IX = FRONT.index


def drawn(**maps: Array) -> InTheMaking:
    d = InTheMaking(3, (1100, 1050))
    d.hair = False
    d.maps |= maps
    return d


def cured(d: InTheMaking) -> tuple[Array, Array, Array]:
    """Picture, landmarks and the steps of its cure."""
    c = compare(from_array(d.truth()), Face(dict(d.table), InTheMaking(3, (1100, 1050)).points))
    return d.render(), d.truth(), cures(curable(c))[0].step


@pytest.mark.parametrize(
    ("group", "shift"),
    [("mouth", (0.0, 0.03)), ("eye_l", (0.0, -0.03)), ("brow_r", (0.0, 0.022)), ("ear_l", (0.0, 0.03)), ("nose", (0.02, 0.0))],
)
def test_the_cured_feature_stands_where_the_plan_has_it_and_the_rest_stays(group: str, shift: tuple[float, float]) -> None:
    """Seen by the tracker, which knows nothing of cures: what the preview shows lies where the undamaged drawing has it."""
    d, well = drawn(**{group: similarity(shift=shift)}), drawn()
    picture, points, step = cured(d)
    p = preview(picture, points, step, d.hh, d.choices)
    out = p.at()
    _, c = carry(begin(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), points), cv2.cvtColor(out, cv2.COLOR_RGB2GRAY))
    e = np.hypot(*(c.points - well.truth()).T) / d.hh
    drawn_points = [i for i in GROUPS[group] if c.status[i] == 2] or GROUPS[group]
    assert np.median(e[drawn_points]) < 0.007
    for other in {"eye_r", "mouth", "nose"} - {group}:
        assert np.nanmax(e[GROUPS[other]]) < 0.006
    assert p.least > 0.15 and p.box is not None
    x0, y0, x1, y1 = p.box
    outside = np.ones(picture.shape[:2], bool)
    outside[y0:y1, x0:x1] = False
    assert (out[outside] == picture[outside]).all() and (p.at(0.0) == picture).mean() > 0.97


def test_any_share_can_be_shown_and_none_changes_nothing() -> None:
    d = drawn(mouth=similarity(shift=(0, 0.03)))
    picture, points, step = cured(d)
    w = Warp(picture, points, step, d.hh)
    far = [int((w.at(s) != picture).sum()) for s in (0.0, 0.3, 1.0)]
    assert far[0] < far[1] < far[2] * 1.2 and Warp(picture, points, 0 * step, d.hh).box is None
    held = picture.copy()
    assert w.at(1.0, held) is held


def test_ink_is_lifted_where_lines_touch_and_bent_where_there_is_room() -> None:
    close = drawn(eye_l=similarity(shift=(0, -0.035)))
    assert isinstance(preview(*cured(close), close.hh, close.choices), Lift)
    ears = drawn(ear_l=similarity(shift=(0, 0.03)))
    assert isinstance(preview(*cured(ears), ears.hh, ears.choices), Warp)
    lift = Lift(*cured(close), close.hh, close.choices)
    where = close.truth()[IX["pupil_l"]].astype(int)
    box = np.s_[where[1] - 4 : where[1] + 5, where[0] - 4 : where[0] + 5]
    assert lift.ground[box].mean() > close.render()[box].mean() + 15, "the ground closes where the ink was lifted"


def test_maps_of_pieces() -> None:
    p = np.random.default_rng(1).uniform(0, 50, (6, 2))
    assert np.allclose(step_map(p, p + [3, 4]), [[1, 0, 3], [0, 1, 4]])
    grown = step_map(p, 1.2 * p)
    assert np.allclose(grown[:, :2], 1.2 * np.eye(2), atol=1e-6)
    wide = step_map(p, p * [1.3, 1.0])
    assert np.abs(p @ wide[:, :2].T + wide[:, 2] - p * [1.3, 1.0]).max() < 0.1
    step = np.zeros((len(FRONT.names), 2))
    step[IX["stomion"]] = 5
    assert list(moving(plan_points(face()) * 500, step, 500)) == ["mouth"] and sum(map(len, anatomy().pieces.values())) == len(
        {i for at in anatomy().pieces.values() for i in at}
    )


# ---- rivals, pointers, redline


def test_cures_rivals_and_pointers_agree_with_the_findings() -> None:
    t = face()
    x = plan_points(t)
    low = x.copy()
    low[GROUPS["mouth"], 1] += 0.035
    c = compare(from_array(as_picture(low)), Face(t, x))
    found = cures(curable(c))
    assert found[0].words == (c.check.findings[0].say,) and all(r.score - found[0].score < CLOSE_CALL for r in found)
    ((a, b),) = pointers(curable(c), as_picture(low))
    assert b[1] - a[1] == pytest.approx(-0.035 * 800, abs=1.5) and abs(a[0] - b[0]) < 1
    assert np.abs(as_picture(low)[GROUPS["mouth"]] + found[0].step[GROUPS["mouth"]] - as_picture(x)[GROUPS["mouth"]]).max() < 2


def test_on_a_page_whose_size_is_known_every_cure_and_rival_tells_millimetres() -> None:
    t, rivals = face(), 0
    x = plan_points(t)
    for seed in range(12):
        rng = np.random.default_rng(seed)
        off = x.copy()
        for g in rng.choice(["mouth", "eye_l", "nose", "brow_r"], 2, replace=False):
            off[GROUPS[g]] += rng.normal(0, 0.03, 2)
        c = compare(from_array(as_picture(off)), Face(t, x), how=How("front", "", px_per_mm=4.0))
        found = cures(curable(c, 4.0))
        rivals += len(found) - 1
        words = [w for each in found for w in each.words]
        assert words and all("mm" in w and "px" not in w for w in words), words
    assert rivals > 0


def test_a_turned_heads_cure_goes_the_way_the_picture_shows() -> None:
    t = face()
    f = Face(t, plan_points(t))
    head = depths_of(f)
    turn = Turn(yaw=30, pitch=5, roll=4)
    r = rotation(turn)
    xyz = head.xyz.copy()
    xyz[GROUPS["mouth"], 1] += 0.03
    marks = from_array(((xyz - CENTRE) @ r[:2].T) * 900 + 1000)
    from dataclasses import replace

    c = compare(replace(marks, turn=turn), f)
    assert c.pose is not None and abs(c.turn.yaw - 30) < 1
    back = np.broadcast_to([0.0, -0.03], (len(xyz), 2))[GROUPS["mouth"]] @ curable(c).to_page.T
    want = ((head.xyz - xyz) @ r[:2].T * 900)[GROUPS["mouth"]]
    assert np.abs(back - want).max() < 1.5


def test_a_redline_says_what_to_do_where_and_is_written() -> None:
    d = drawn(mouth=similarity(shift=(0, 0.03)), eye_l=similarity(1.2, about=np.nanmean(drawn().points[GROUPS["eye_l"]], 0)))
    c = compare(from_array(d.truth()), Face(dict(d.table), drawn().points))
    cure = cures(curable(c))[0]
    pic = redline((1100, 1050), d.truth(), cure, d.hh, d.choices)
    assert [ly.id for ly in pic.layers] == ["ghost", "arrows", "notes"] and pic.box == (0, 0, 1100, 1050)
    words = [i.words for i in pic.layer("notes").items if isinstance(i, Text)]
    assert "Raise the mouth" in words and any("heads (" in w for w in words)
    rows = sorted(i.at[1] for i in pic.layer("notes").items if isinstance(i, Text))
    assert all(b - a > 0.02 * d.hh for a, b in pairwise(rows)), "no note over another"
    ghosts = np.vstack([t.points for t in pic.layer("ghost").items])
    lips = (d.truth() + cure.step)[GROUPS["mouth"]]
    assert all(np.linalg.norm(ghosts - q, axis=1).min() < 0.02 * d.hh for q in lips[:3])
    svg = ET.fromstring(to_svg(as_page(pic)))
    assert svg.attrib["width"].startswith(f"{1100 * 25.4 / 96:.4g}") and len(svg.findall("{http://www.w3.org/2000/svg}g")) == 3
    assert not redline((1100, 1050), d.truth(), cure, d.hh, d.choices, notes=False).layer("notes").items
    assert {i.role for i in pic.layer("arrows").items} == {Ink.HALO, Ink.REDLINE_DEEP}


# ---- the best subset


def _problem(seed: int) -> tuple[Array, Array, Array, list]:  # type: ignore[type-arg]
    rng = np.random.default_rng(seed)
    x = plan_points(face())
    moves = [_moves_of(x)[k] for k in sorted(rng.choice(len(_moves_of(x)), 8, replace=False))]
    every = face_rows()
    known = np.isfinite(lengths(x, every))
    rows = Rows(tuple(r for r, k in zip(every.rows, known, strict=True) if k), every.forms[known], every.needs[known])
    tol = tolerances(x, rows, np.full(len(x), 0.003))
    amounts = np.zeros(8)
    amounts[rng.choice(8, int(rng.integers(1, 3)), replace=False)] = rng.choice([-1, 1]) * rng.uniform(0.04, 0.07)
    off = sum(a * m.field for a, m in zip(amounts, moves, strict=True)) + rng.normal(0, 0.001, x.shape)
    return rows.forms, rows.forms @ np.nan_to_num(off).ravel(), tol, moves


@pytest.mark.parametrize("seed", range(12))
def test_the_best_subset_is_what_trying_every_one_finds(seed: int) -> None:
    """``itertools`` tries all subsets of up to three of eight moves, ``scipy.optimize.lsq_linear`` solves each."""
    forms, wanted, tol, moves = _problem(seed)
    a = np.column_stack([forms @ m.field.ravel() for m in moves]) / tol[:, None]
    b = wanted / tol
    best, names = np.inf, frozenset[str]()
    for n in range(4):
        for chosen in combinations(range(8), n):
            left = b - a[:, chosen] @ lsq_linear(a[:, chosen], b).x if chosen else b
            points = sum(int((np.abs(moves[k].field).max(1) > 0).sum()) for k in chosen)
            score = (left @ left) / HALF**2 + PRICE * n + POINT_PRICE * points + LEFT_OVER * np.maximum(0, np.abs(left) - 1).sum()
            if score < best:
                best, names = float(score), frozenset(moves[k].name for k in chosen)
    fix = smallest_fix(forms, wanted, tol, moves)
    assert fix.score <= best + 1e-6 and (len(fix.moves) > 3 or {m.name for m in fix.moves} == names)
    greedy = followed(ready(forms, tol, moves, np.eye(len(tol))), wanted, np.zeros((len(tol), 0)), np.zeros(0))
    assert greedy.score >= fix.score - 1e-6 and greedy.score < best * 1.6 + 20 and not greedy.rivals
    chosen = [[m.name for m in moves].index(m.name) for m in greedy.moves]
    assert np.allclose(greedy.amounts, lsq_linear(a[:, chosen], b).x, atol=1e-6), "its amounts are least squares of what it chose"
    for gain, k in zip(greedy.gains, chosen, strict=True):
        rest = [c for c in chosen if c != k]
        left = b - a[:, rest] @ lsq_linear(a[:, rest], b).x if rest else b
        points = sum(int((np.abs(moves[c].field).max(1) > 0).sum()) for c in rest)
        without = (
            (left @ left) / HALF**2 + PRICE * len(rest) + POINT_PRICE * points + LEFT_OVER * np.maximum(0, np.abs(left) - 1).sum()
        )
        assert gain == pytest.approx(without - greedy.score, abs=1e-4)


def test_a_check_follows_a_drag_from_the_one_before() -> None:
    t = face()
    x = plan_points(t)
    low = x.copy()
    low[GROUPS["mouth"], 1] += 0.03
    before = check(from_array(as_picture(low)), x)
    low[GROUPS["mouth"], 1] += 0.004
    quick, whole = (check(from_array(as_picture(low)), x, since=s) for s in (before, None))
    assert [f.reading for f in quick.findings] == [f.reading for f in whole.findings]
    assert quick.findings[0].amount_hh == pytest.approx(whole.findings[0].amount_hh, abs=0.002) and not quick.fix.rivals


def test_a_styles_own_spread_is_the_tolerance() -> None:
    rows = (
        ("eye_station", StyleRow(mean=0.5, sd=0.004, n=8)),
        ("mouth_width_fw", StyleRow(mean=0.4, sd=0.03, n=8)),
        ("iris_ew", StyleRow(mean=0.4, sd=0.01, n=2)),
    )
    spreads = dict(style_spreads(Style(name="s", title="S", readings=dict(rows))))
    assert spreads == {"eye_station": 0.004, "mouth_width_fw": pytest.approx(0.075)}, "two drawings say nothing of a spread"
    t = face()
    x = plan_points(t)
    off = x.copy()
    off[[*GROUPS["eye_l"], *GROUPS["eye_r"], *GROUPS["brow_l"], *GROUPS["brow_r"]], 1] += 0.016
    usual, strict = (check(from_array(as_picture(off)), x, noise=0.001, spreads=s) for s in ({}, spreads))
    assert "eye_station" in usual.passed and "eye_station" not in strict.passed
    wide = x.copy()
    wide[[IX["cheilion_l"], IX["cheilion_r"]], 0] *= 1.14
    usual, loose = (check(from_array(as_picture(wide)), x, noise=0.001, spreads=s) for s in ({}, spreads))
    assert "mouth_width_fw" not in usual.passed and "mouth_width_fw" in loose.passed
