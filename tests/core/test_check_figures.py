"""Figures and profiles: the smallest fix, its rivals, and the cure on the drawing."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.check.cures import CLOSE_CALL, curable, cures, pointers
from orthomet.core.check.figure import FigureCheck, check_figure
from orthomet.core.check.figure_moves import BONES, SIDE, figure_moves
from orthomet.core.check.figure_rows import figure_rows, seen_of
from orthomet.core.check.overlay import view_overlay
from orthomet.core.check.profile import ProfileCheck, check_profile
from orthomet.core.check.profile_moves import profile_moves
from orthomet.core.check.stance import stance_of
from orthomet.core.check.view import table
from orthomet.core.cure.preview import preview
from orthomet.core.cure.redline import redline, two_lines
from orthomet.core.cure.warp import Warp
from orthomet.core.errors import OrthometError
from orthomet.core.figure.build import readings_of
from orthomet.core.figure.skeleton import Skeleton
from orthomet.core.head.points import plan_points
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import State, from_array
from orthomet.core.landmarks.turn import Turn
from orthomet.core.landmarks.views import FIGURE, PROFILE
from orthomet.core.picture import Text
from orthomet.core.pose.bones import posed
from orthomet.core.pose.library import pose
from orthomet.core.pose.lift import bones_seen
from orthomet.core.pose.marked import marked
from orthomet.core.pose.model import STANDING, Pose
from orthomet.core.resolve import Face
from tests.faces import face
from tests.poses import SCALE, figure_of, on_page
from tests.profiles import AT, PLANNED


def skeleton(name: str = "measured") -> Skeleton:
    return figure_of(name).mannequin.skeleton


def spots(p: Pose = STANDING, yaw: float = 0.0, name: str = "measured") -> Array:
    at = marked(posed(skeleton(name), p), Turn(yaw=yaw))
    return np.array([at.get(n, (np.nan, np.nan)) for n in FIGURE.names])


def checked(
    x: Array,
    rng: np.random.Generator | None = None,
    noise: float = 0.0,
    poses: tuple[Pose, ...] = (STANDING,),
    name: str = "measured",
) -> FigureCheck:
    s = skeleton(name)
    at = {n: x[k] for n, k in FIGURE.index.items() if np.isfinite(x[k]).all()}
    return check_figure(on_page(at, rng, noise), s, readings_of(s.build), poses=poses)


# ---- figures


@given(st.integers(0, 200), st.floats(-0.2, 0.2), st.floats(-25, 25))
@settings(max_examples=40, deadline=None)
def test_a_longer_bone_is_longer_by_its_amount_and_takes_along_what_hangs_on_it(k: int, amount: float, yaw: float) -> None:
    x = spots(yaw=yaw)
    moves = {m.name: m for m in figure_moves(x)}
    bone, side = list(BONES)[k % 4 if k % 4 != 2 else 3], "lr"[k % 2]
    m = moves[f"{SIDE[side]} {bone} longer/shorter"]
    y = x + amount * m.field

    def long(at: Array, b: str) -> float:
        i, j = (FIGURE.index[f"{n}_{side}"] for n in BONES[b])
        return float(np.hypot(*(at[j] - at[i])))

    assert long(y, bone) == pytest.approx(long(x, bone) + amount, abs=1e-9)
    for other in BONES:
        if other != bone:
            assert long(y, other) == pytest.approx(long(x, other), abs=1e-9)


def test_random_named_moves_are_named_first_and_a_right_figure_passes() -> None:
    rng = np.random.default_rng(11)
    right = close = alarms = tried = 0
    for k in range(60):
        name = ["measured", "feminine", "heroic"][k % 3]
        s, x = skeleton(name), spots(yaw=float(rng.uniform(-20, 20)), name=name)
        alarms += bool(checked(x, rng, 0.003, name=name).findings)
        moves = [m for m in figure_moves(x) if not m.name.startswith("body")]  # “head larger” says the same
        m = moves[int(rng.integers(len(moves)))]
        page = on_page({n: x[i] for n, i in FIGURE.index.items() if np.isfinite(x[i]).all()})
        forms, _, tolerance = table(
            figure_rows(
                seen_of(page, bones_seen(s, page), stance_of(page.points, s, (STANDING,)), 0.003, None), readings_of(s.build)
            )
        )
        share = np.abs(forms @ m.field.ravel()) / tolerance
        if share.max() < 1e-3:
            continue
        amount = float(np.clip(rng.uniform(2, 3.5) / share.max(), 0, 0.45)) * float(rng.choice([-1, 1]))
        c = checked(x + amount * m.field, rng, 0.003, name=name)
        tried += 1
        right += [q.name for q in c.fix.moves] == [m.name]
        close += any([q.name for q in r] == [m.name] for r in (c.fix.moves, *(r.moves for r in c.fix.rivals[:3])))
    assert right >= 0.9 * tried and close >= 0.95 * tried and alarms <= 2


def test_one_cause_is_one_finding() -> None:
    x = spots()
    moves = {m.name: m for m in figure_moves(x)}
    both = checked(x + 0.14 * moves["forearms longer/shorter"].field)
    (f,) = both.findings
    assert f.say.startswith("Make both forearms shorter by 0.1") and f.move is not None and f.reading == "forearm_hh"
    low = checked(x + 0.13 * moves["shoulders up/down"].field)
    assert [f.say.split(" by ")[0] for f in low.findings] == ["Raise the shoulders"] and "trunk_hh" in low.findings[0].explains
    big = checked(x - 0.13 * moves["head larger/smaller"].field)
    assert "the head" in big.findings[0].say or "the body below the head" in big.findings[0].say
    small = checked(x - 0.12 * moves["left hand larger/smaller"].field)
    assert "left hand" in small.findings[0].say and small.findings[0].direction in ("shorter", "enlarge")
    quiet = check_figure(on_page({n: (x + 0.14 * moves["forearms longer/shorter"].field)[i] for n, i in FIGURE.index.items() if np.isfinite(x[i]).all()}),
                         skeleton(), readings_of(skeleton().build), meant=("forearm_hh",))  # fmt: skip
    assert not quiet.findings and quiet.meant == ("forearm_hh",)


def test_a_pose_is_known_by_its_segments_however_long_they_are_drawn() -> None:
    s, walking = skeleton(), pose("walking")
    x = spots(walking, 30)
    m = {q.name: q for q in figure_moves(x)}["legs longer/shorter"]
    longer = x + 0.5 * m.field
    at = {n: tuple(longer[i] * SCALE) for n, i in FIGURE.index.items() if np.isfinite(longer[i]).all()}
    shown = stance_of(at, s, (STANDING, walking))
    assert (
        shown is not None and shown.pose is walking and abs(shown.yaw - 30) <= 8 and shown.scale == pytest.approx(SCALE, rel=0.04)
    )
    c = checked(longer, poses=(STANDING, walking))
    assert [q.name for q in c.fix.moves] == ["legs longer/shorter"]
    other = {n: tuple(v * SCALE) for n, v in marked(posed(s, pose("sitting")), Turn()).items()}
    assert stance_of(other, s, (STANDING,)) is None


def test_an_arm_is_judged_from_its_joint_in_an_unknown_pose() -> None:
    rng = np.random.default_rng(4)
    hit = 0
    for k in range(12):
        x = spots(pose("weight on one leg"), float(rng.uniform(-15, 15)))
        side = "lr"[k % 2]
        field = {q.name: q for q in figure_moves(x)}[f"{SIDE[side]} upper_arm longer/shorter"].field
        c = checked(x + 0.12 * field, rng, 0.003, poses=())
        hit += bool(c.findings) and c.findings[0].say.startswith(f"Make the {SIDE[side]} upper arm")
    assert hit >= 9


def test_nothing_says_that_both_are_too_long_where_one_is_turned_away() -> None:
    x = spots(pose("walking"), 20)  # the left forearm comes toward the viewer
    c = checked(x + 0.16 * {q.name: q for q in figure_moves(x)}["right forearm longer/shorter"].field, poses=())
    assert [f.say.split(" 1")[0] for f in c.findings] == ["Make the right forearm"]
    near = [r for r in c.fix.rivals if r.score - c.fix.score < CLOSE_CALL]
    assert not any("both" in m.more or "whole" in m.more for r in near for m in r.moves)
    names = {m.name for m in figure_moves(x, judged=frozenset({"forearm_r", "thigh_l", "thigh_r"}))}
    assert "right forearm longer/shorter" in names and not {"left forearm longer/shorter", "forearms longer/shorter"} & names
    assert {"thighs longer/shorter"} <= names and "legs longer/shorter" not in names


def test_an_open_point_widens_what_rests_on_it_and_one_nobody_knows_is_not_judged() -> None:
    from dataclasses import replace

    x = spots()
    wrong = x + 0.12 * {q.name: q for q in figure_moves(x)}["left forearm longer/shorter"].field
    page = on_page({n: wrong[i] for n, i in FIGURE.index.items() if np.isfinite(wrong[i]).all()})
    open_ = {"stylion_l": State.ESTIMATED, "dactylion_l": State.ESTIMATED}
    s, plan = skeleton(), readings_of(skeleton().build)
    tolerances = []
    for spread in (0.0, 0.01, 0.02):
        known = replace(page, states=open_ if spread else {}, spread=dict.fromkeys(open_, spread * SCALE) if spread else {})
        (f,) = check_figure(known, s, plan).findings
        assert f.reading == "forearm_hh"
        tolerances.append(f.tolerance)
    assert tolerances[0] == tolerances[1] < tolerances[2], "what is inside the usual tolerance adds nothing"
    assert not check_figure(replace(page, states=open_), s, plan).findings, "nobody knows how well they lie"
    assert not check_figure(replace(page, states=open_, spread=dict.fromkeys(open_, 0.1 * SCALE)), s, plan).findings


# ---- profiles


def profile(flip: bool = False, quick: bool = False, **moved: tuple[float, float]) -> ProfileCheck:
    x = np.array([np.add(AT.get(n, (np.nan, np.nan)), moved.get(n, (0, 0))) for n in PROFILE.names])
    return check_profile(from_array(x * [-500 if flip else 500, 500] + [900, 100], PROFILE), PLANNED, quick=quick)


@pytest.mark.parametrize("flip", [False, True])
@pytest.mark.parametrize(
    ("names", "by", "said"),
    [
        (("stomion", "labiale_superius", "labiale_inferius", "sublabiale"), (0, 0.035), "Raise the mouth"),
        (("gnathion", "pogonion"), (0, 0.05), "Raise the chin"),
        (("vertex",), (0, -0.05), "Lower the crown"),
        (("pronasale",), (0.04, 0), "Take the nose back"),
        (("pogonion", "gnathion"), (-0.04, 0), "Bring the chin forward"),
        (("tragion", "superaurale", "subaurale"), (0, -0.05), "Lower the ear"),
        (("opisthocranion",), (-0.08, 0), "Shorten the head from front to back"),
    ],
)  # fmt: skip
def test_a_profiles_one_fault_is_its_one_finding(flip: bool, names: tuple[str, ...], by: tuple[float, float], said: str) -> None:
    c = profile(flip, **dict.fromkeys(names, by))
    assert [f.say.split(" by ")[0] for f in c.findings] == [said]
    (cure, *_) = cures(curable(c))
    want = -np.array(by) * [-500 if flip else 500, 500]
    assert np.abs(cure.step[[PROFILE.index[n] for n in names]] - want).max() < 0.008 * 500
    assert all(r.score - cure.score < CLOSE_CALL for r in cures(curable(c)))


def test_a_right_profile_passes_a_tilted_one_is_little_off_and_few_points_say_little() -> None:
    assert not profile().findings and len(profile().passed) == len(PLANNED)
    assert {m.name for m in profile_moves(np.full((len(PROFILE.names), 2), np.nan))} == set()
    few = {n: AT[n] for n in ("vertex", "gnathion", "stomion", "subnasale", "pronasale", "glabella")}
    x = np.array([np.add(few.get(n, (np.nan, np.nan)), (0, 0.04) if n == "stomion" else (0, 0)) for n in PROFILE.names])
    c = check_profile(from_array(x * 500, PROFILE), PLANNED)
    assert [f.reading for f in c.findings] == ["mouth_station"]


# ---- on the drawing


def dots(x: Array, size: tuple[int, int]) -> Array:
    """A picture of landmarks as dots."""
    out = np.full((size[1], size[0], 3), 240, np.uint8)
    for p in x[np.isfinite(x).all(1)]:
        cv2.circle(out, (round(float(p[0] * 16)), round(float(p[1] * 16))), 3 * 16, (20, 20, 20), -1, cv2.LINE_AA, 4)
    return out


def dot_near(picture: Array, at: Array) -> float:
    """How far from a place the nearest dot's middle is, pixels."""
    x, y = np.round(at).astype(int)
    part = 255.0 - picture[max(0, y - 7) : y + 8, max(0, x - 7) : x + 8, 0]
    part = np.where(part > 60, part, 0)
    if part.sum() < 500:
        return 99.0
    rows, cols = np.mgrid[max(0, y - 7) : max(0, y - 7) + part.shape[0], max(0, x - 7) : max(0, x - 7) + part.shape[1]]
    return float(np.hypot((cols * part).sum() / part.sum() - at[0], (rows * part).sum() / part.sum() - at[1]))


@pytest.mark.parametrize(
    "name", ["left upper_arm longer/shorter", "right shin longer/shorter", "head larger/smaller", "forearms longer/shorter"]
)
def test_a_figures_limb_is_bent_where_the_plan_has_it_and_the_rest_stays(name: str) -> None:
    x = spots(pose("walking"), 20)
    m = {q.name: q for q in figure_moves(x)}[name]
    wrong = x + 0.14 * m.field
    c = checked(wrong, poses=(STANDING, pose("walking")))
    assert [q.name for q in c.fix.moves] == [name]
    page = wrong * SCALE + [400, 50]
    cure = cures(curable(c))[0]
    made = preview(dots(page, (800, 760)), page, cure.step, curable(c).head, view="figure")
    assert isinstance(made, Warp) and made.least > 0
    after = made.at()
    known = [i for i in range(len(x)) if np.isfinite(page[i]).all() and FIGURE.names[i] != "floor"]
    lone = [i for i in known if min(np.hypot(*(page[i] - page[j])) for j in known if j != i) > 16]
    off = {FIGURE.names[i]: dot_near(after, (page + cure.step)[i]) for i in lone}
    assert len(off) > 8 and np.median(list(off.values())) < 1.0 and max(off.values()) < 3.0, off
    assert np.array_equal(made.at(0.0), dots(page, (800, 760)))


def test_a_profiles_contour_is_bent_by_its_neighbours_only_and_drawn_over() -> None:
    c = profile(**dict.fromkeys(("stomion", "labiale_superius", "labiale_inferius", "sublabiale"), (0, 0.035)))
    page = np.array(
        [np.add(AT.get(n, (np.nan, np.nan)), (0, 0.035) if n in c.fix.moves[0].names else (0, 0)) for n in PROFILE.names]
    )
    page = page * 500 + [900, 100]
    cure = cures(curable(c))[0]
    ghost = redline((1500, 700), page, cure, 500, view="profile")
    lines = np.vstack([t.points for t in ghost.layer("ghost").items])
    assert lines[:, 1].min() > page[PROFILE.index["pronasale"], 1] and lines[:, 1].max() < page[PROFILE.index["gnathion"], 1] + 5
    words = [i.words for i in ghost.layer("notes").items if isinstance(i, Text)]
    assert words[0] == "Raise the mouth" and words[1].startswith("0.03")
    after = preview(dots(page, (1500, 700)), page, cure.step, 500, view="profile").at()
    for n in ("trichion", "nasion", "tragion", "exocanthion", "opisthocranion"):
        assert dot_near(after, page[PROFILE.index[n]]) < 1
    assert dot_near(after, (page + cure.step)[PROFILE.index["stomion"]]) < 4
    assert two_lines("Do it") == ("Do it", "")


def test_a_figures_redline_stays_on_its_page_and_points_where_the_limb_ends() -> None:
    x = spots()
    wrong = x + 0.14 * {q.name: q for q in figure_moves(x)}["left forearm longer/shorter"].field
    c = checked(wrong)
    page = wrong * SCALE + [400, 50]
    (arrow,) = pointers(curable(c), page)
    assert arrow is not None and np.allclose(np.subtract(arrow[1], arrow[0]), [0, -0.14 * SCALE], atol=3.0)
    size = (620, 760)
    pic = redline(size, page, cures(curable(c))[0], curable(c).head, view="figure")
    for layer in pic.layers:
        for item in layer.items:
            at = np.atleast_2d(item.at if isinstance(item, Text) else item.points)
            assert (at > -1).all() and (at < np.array(size) + 1).all()
    assert next(i.words for i in pic.layer("notes").items if isinstance(i, Text)) == "Make the left forearm"


# ---- the plan over it


def test_the_planned_body_and_head_are_laid_where_the_drawing_has_them() -> None:
    from orthomet.core.figure.scene import Figure

    walking = pose("walking")
    x = spots(walking, 20)
    c = checked(x, poses=(STANDING, walking))
    marks = on_page({n: x[i] for n, i in FIGURE.index.items() if np.isfinite(x[i]).all()})
    calls: list[Figure] = []

    def body() -> Figure:
        calls.append(figure_of("measured"))
        return calls[-1]

    laid = view_overlay(c, marks, None, body)
    assert laid is not None and len(calls) == 1
    picture, way = laid
    assert np.abs(way[:, :2] - SCALE * np.eye(2)).max() < 0.03 * SCALE
    lines = np.vstack([t.points @ way[:, :2].T + way[:, 2] for t in picture.layer("body").items])
    low, high = np.nanmin(x, 0) * SCALE + [400, 50], np.nanmax(x, 0) * SCALE + [400, 50]
    assert np.abs(lines[:, 1].max() - high[1]) < 0.15 * SCALE and lines[:, 0].min() > low[0] - 0.4 * SCALE
    t = face()
    for flip in (False, True):
        side = profile(flip)
        at = {n: (x * (-500 if flip else 500) + 900, y * 500 + 100) for n, (x, y) in AT.items()}
        laid = view_overlay(
            side,
            from_array(np.array([at.get(n, (np.nan, np.nan)) for n in PROFILE.names]), PROFILE),
            Face(t, plan_points(t)),
            body,
        )
        assert laid is not None and np.linalg.norm(laid[1][:, :2], 2) == pytest.approx(500, rel=0.12)
        nose = np.vstack(
            [q.points @ laid[1][:, :2].T + laid[1][:, 2] for ly in laid[0].layers for q in ly.items if hasattr(q, "points")]
        )
        assert (nose[:, 0].max() > at["pronasale"][0] - 60) if not flip else (nose[:, 0].min() < at["pronasale"][0] + 60)
    assert len(calls) == 1, "a profile needs no body"


# ---- what must not break it


@given(st.integers(0, 10_000), st.floats(0.0, 1.0), st.sampled_from([0.0, 0.05, 3.0]))
@settings(max_examples=60, deadline=None)
def test_any_points_are_judged_or_refused_in_a_sentence(seed: int, kept: float, wild: float) -> None:
    """Some points of a figure or a profile, strewn a little or wildly: findings with cures that are numbers, or one sentence."""
    rng = np.random.default_rng(seed)
    for view in (FIGURE, PROFILE):
        x = (
            spots(yaw=float(rng.uniform(-180, 180)))
            if view is FIGURE
            else np.array([AT.get(n, (np.nan, np.nan)) for n in PROFILE.names])
        )
        x = x + rng.normal(0, wild, x.shape) if wild else np.where(rng.random(x.shape) < 0.3, np.nan_to_num(x[0]), x)
        x = np.where((rng.random(len(x)) < kept)[:, None], x, np.nan)
        marks = from_array(x * 300 + 1000, view)
        try:
            for quick in (False, True):
                c = (
                    check_figure(marks, skeleton(), readings_of(skeleton().build), quick=quick)
                    if view is FIGURE
                    else check_profile(marks, PLANNED, quick=quick)
                )
                pointers(curable(c), marks.array(view))
                for cure in cures(curable(c)):
                    assert np.isfinite(cure.step).all() and all(np.isfinite(cure.amounts))
                assert all(
                    np.isfinite([f.difference_hh, f.severity, f.amount_hh]).all() and "nan" not in f.say for f in c.findings
                )
        except OrthometError as e:
            assert str(e).endswith(".")


def test_the_quick_answer_tells_what_the_whole_one_does() -> None:
    for c, quick in [
        (profile(gnathion=(0, 0.05), pogonion=(0, 0.05)), profile(quick=True, gnathion=(0, 0.05), pogonion=(0, 0.05)))
    ] + [(profile(vertex=(0, -0.05)), profile(quick=True, vertex=(0, -0.05)))]:
        assert [f.say.split(" by ")[0] for f in quick.findings] == [
            f.say.split(" by ")[0] for f in c.findings
        ] and not quick.fix.rivals
        assert quick.findings[0].reading == c.findings[0].reading
        assert quick.findings[0].amount_hh == pytest.approx(c.findings[0].amount_hh, abs=0.006)
