"""Points carried from save to save: against drawings whose truth is known, and against OpenCV's and scikit-image's own tracking."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.transform import SimilarityTransform

from orthomet.core.check.figure_moves import figure_moves
from orthomet.core.cure.preview import preview
from orthomet.core.errors import LandmarkError
from orthomet.core.imaging.load import load
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.views import SCHEMAS
from orthomet.core.live.affine import SAME, after, agreed, put, scale_and_turn, turned, undone
from orthomet.core.live.carry import Carried, begin, carry, told
from orthomet.core.live.linemap import LineMap, line_map
from orthomet.core.live.patches import corner_share, find_patches, has_line
from orthomet.core.live.rim import ALONG, LOST, SURE
from orthomet.core.live.saved import carried_marks, note, take_save
from orthomet.core.live.whole import whole_way
from orthomet.core.project.checked import Noted
from orthomet.core.project.model import Character, Drawing, Image, Marks, Project
from orthomet.demo.project import demo_project
from tests.edited import GROUPS, USED, InTheMaking, edit, sequence, similarity

SIZE = (1100, 1050)


def grey(d: InTheMaking) -> Array:
    return cv2.cvtColor(d.render(), cv2.COLOR_RGB2GRAY)


@cache
def drawing(seed: int = 4) -> InTheMaking:
    return InTheMaking(seed, SIZE)


@cache
def start(seed: int = 4) -> tuple[object, Array]:
    d = drawing(seed)
    return begin(grey(d), d.truth()), grey(d)


def errors(c: Carried, d: InTheMaking) -> Array:
    return np.asarray(np.hypot(*(c.points - d.truth()).T)[USED] / d.hh)


# ---- maps


@given(st.floats(0.5, 2), st.floats(-170, 170), st.floats(-50, 50), st.floats(-50, 50))
def test_maps_undo_and_follow_each_other(s: float, a: float, x: float, y: float) -> None:
    m = turned(s, a) + [[0, 0, x], [0, 0, y]]
    p = np.random.default_rng(1).normal(0, 30, (7, 2))
    assert np.allclose(put(undone(m), put(m, p)), p) and np.allclose(after(undone(m), m), SAME)
    assert scale_and_turn(m) == pytest.approx((s, a))
    assert np.allclose(put(m, p), SimilarityTransform(scale=s, rotation=np.radians(a), translation=(x, y))(p))


def test_agreed_similarity_is_scikit_images_where_nothing_moved_and_ignores_what_did() -> None:
    rng = np.random.default_rng(2)
    p = rng.uniform(0, 400, (60, 2))
    q = put(turned(1.03, 2.0) + [[0, 0, 4], [0, 0, -7]], p) + rng.normal(0, 0.3, p.shape)
    ours, _ = agreed(p, q, np.ones(60), SAME, 0.5)
    theirs = SimilarityTransform.from_estimate(p, q) if hasattr(SimilarityTransform, "from_estimate") else None
    if theirs is None:
        theirs = SimilarityTransform()
        theirs.estimate(p, q)
    assert np.abs(put(ours, p) - theirs(p)).max() < 0.15
    q[:18] += [25, 10]  # a third of it was moved
    kept, off = agreed(p, q, np.ones(60), turned(1.02, 1.6), 0.5)
    assert np.abs(put(kept, p) - theirs(p)).max() < 0.6 and off[:18].min() > 20


# ---- line maps and patches


def test_colour_under_the_lines_drops_out_and_a_ghost_stays_weak() -> None:
    d = drawing().clone()
    d.hair = d.guides = False
    plain = line_map(grey(d), 1.0)
    d.fills.append(("skin", np.array((0.72, 0.62, 0.55)), 1.0))
    tinted = line_map(grey(d), 1.0)
    x = d.truth()

    def strength(m: LineMap, n: str) -> float:
        col, row = x[FRONT.index[n]].astype(int)
        return float(m.soft[row - 6 : row + 7, col - 6 : col + 7].max())

    for n in ("stomion", "exocanthion_l", "alare_r"):
        assert strength(tinted, n) > 0.7 * strength(plain, n) > 0.3
    d.ghosts.append(("mouth", 0, d.maps["mouth"], [k for k in d.lines() if k[0].startswith("mouth/")], 0.1))
    d.gone.add("mouth")
    ghost = line_map(grey(d), 1.0)
    assert strength(ghost, "stomion") < 0.5 * strength(plain, "stomion")


def test_patches_move_as_opencvs_own_flow_and_phase_correlation_say() -> None:
    d = drawing()
    a = grey(d)
    shift = np.array([3.4, -2.6])
    b = cv2.warpAffine(a, np.column_stack([np.eye(2), shift]), (a.shape[1], a.shape[0]), borderMode=cv2.BORDER_REPLICATE)
    la, lb = line_map(a, 1.0), line_map(b, 1.0)
    at = d.truth()[[FRONT.index[n] for n in ("exocanthion_l", "endocanthion_r", "alare_l", "cheilion_r", "cheilion_l")]]
    f = find_patches(la.soft, at, lb.soft, SAME, at, 14, 8)
    flow, seen, _ = cv2.calcOpticalFlowPyrLK(a, b, at.astype(np.float32).reshape(-1, 1, 2), None, winSize=(29, 29))
    assert seen.all() and np.abs(f.places - at - shift).max() < 0.5
    assert np.abs(f.places - flow.reshape(-1, 2)).max() < 0.6 and f.inside.all() and f.alike.min() > 0.95
    h, w = la.soft.shape
    window = cv2.createHanningWindow((w, h), cv2.CV_64F)
    (px, py), _ = cv2.phaseCorrelate(la.soft.astype(np.float64), lb.soft.astype(np.float64), window)
    assert np.abs(np.array([px, py]) - (f.places - at).mean(0)).max() < 0.8
    assert has_line(la.soft, at[0]) and not has_line(la.soft, np.array([20.0, 20.0]))
    assert corner_share(la.soft, at[0]) > corner_share(la.soft, d.truth()[FRONT.index["zygion_l"]])


@pytest.mark.parametrize(
    ("scale", "degrees", "x", "y"), [(1.0, 0.0, 60, -40), (1.0, 4.0, 0, 0), (0.92, -3.0, 30, 20), (1.1, 2.0, -40, 10)]
)
def test_where_the_whole_went_is_found(scale: float, degrees: float, x: float, y: float) -> None:
    d = drawing()
    moved = d.clone()
    moved.view = after(similarity(scale, degrees, (x, y), put(d.view, np.array([0, 0.5]))), d.view)
    t, _ = start()
    _, c = carry(t, grey(moved))  # type: ignore[arg-type]
    s, a = scale_and_turn(c.whole)
    assert s == pytest.approx(scale, abs=0.01) and a == pytest.approx(degrees, abs=0.4)
    assert (errors(c, moved) < 0.006).mean() > 0.95
    way, like = whole_way(line_map(grey(d), 1.0), d.truth(), tuple(USED), d.hh, line_map(grey(d), 1.0))
    assert like == 1.0 and np.allclose(way, SAME)


# ---- saves


def test_what_stands_still_stays_and_is_sure() -> None:
    t, g = start()
    _, c = carry(t, g)  # type: ignore[arg-type]
    assert errors(c, drawing()).max() < 0.002 and (c.status[USED] == SURE).mean() > 0.75 and c.words == "" and not c.redrawn


def test_a_feature_that_moved_is_followed_and_the_rest_stays() -> None:
    d = drawing().clone()
    d.maps["mouth"] = similarity(shift=(0.004, 0.03))
    t, _ = start()
    _, c = carry(t, grey(d))  # type: ignore[arg-type]
    e = dict(zip(USED, errors(c, d), strict=True))
    assert max(e[i] for i in GROUPS["mouth"]) < 0.005 and max(e[i] for i in GROUPS["eye_l"]) < 0.003 and c.redrawn == ("mouth",)


def test_an_erased_feature_is_lost_and_one_drawn_anew_is_never_sure_at_once() -> None:
    d = drawing().clone()
    d.gone.add("nose")
    t, _ = start()
    t2, c = carry(t, grey(d))  # type: ignore[arg-type]
    nose = GROUPS["nose"]
    assert (c.status[nose] != SURE).all() and (c.status[nose] == LOST).any() and c.spread[nose].min() > 0.004 * d.hh
    back = d.clone()
    back.gone.discard("nose")
    back.maps["nose"], back.version["nose"] = similarity(shift=(0, 0.025)), 1
    _, c2 = carry(t2, grey(back))
    wrong = np.hypot(*(c2.points - back.truth()).T)[nose] / d.hh > 0.012
    assert not (wrong & (c2.status[nose] == SURE)).any()


def test_sequences_of_edits_are_followed_and_hardly_ever_silently_wrong() -> None:
    near: list[bool] = []
    silent = 0
    for seed in (301, 302, 305):
        t = None
        for d, _ in sequence(seed, 4, SIZE):
            g, x = grey(d), d.truth()
            if t is not None:
                _, c = carry(t, g)
                gone = {i for k in d.gone for i in GROUPS[k]}
                here = [i for i in USED if i not in gone and (x[i] >= 0).all() and (x[i] < d.size).all()]
                e = np.hypot(*(c.points - x).T)[here] / d.hh
                near += list(e < 0.004)
                silent += int(((e > 0.012) & (c.status[here] == SURE)).sum())
            t = begin(g, x)
    assert len(near) > 400 and np.mean(near) > 0.93 and silent <= 2


@settings(max_examples=6, deadline=None)
@given(st.sampled_from(["colour", "strokes", "levels", "layer", "lasso"]), st.integers(0, 40))
def test_spreads_are_honest(kind: str, seed: int) -> None:
    """A point that is off by far says so, or is not called sure."""
    d = drawing().clone()
    edit(np.random.default_rng(seed), d, kind)
    t, _ = start()
    _, c = carry(t, grey(d))  # type: ignore[arg-type]
    far = errors(c, d) > np.maximum(0.02, 6 * c.spread[USED] / d.hh)
    assert far.mean() < 0.04


def test_what_was_not_drawn_on_stands_exactly_where_it_stood() -> None:
    d = drawing().clone()
    d.maps["mouth"] = similarity(shift=(0, 0.02))
    t, _ = start()
    _, c = carry(t, grey(d))  # type: ignore[arg-type]
    far = [i for g in ("eye_l", "eye_r", "brow_l", "brow_r", "ear_l", "ear_r") for i in GROUPS[g]]
    stood = d.truth()[far]
    assert np.abs(c.points[far] - stood).max() < 1e-6 and np.array_equal(c.whole, SAME) and c.words == ""
    assert np.abs((c.points - d.truth())[GROUPS["mouth"]]).max() < 0.006 * d.hh and "mouth" in c.redrawn
    shifted = cv2.warpAffine(grey(d), np.array([[1, 0, 3.0], [0, 1, 0]]), SIZE, borderMode=cv2.BORDER_REPLICATE)
    _, moved = carry(t, shifted)  # type: ignore[arg-type]
    assert np.abs(moved.points[far] - stood - [3, 0]).max() < 0.6, "what was shifted did not stand still"


def test_what_is_left_of_an_eye_drawn_anew_elsewhere_is_not_the_eye() -> None:
    """Inked, an eye erased to a ghost and drawn anew beside while the whole is turned and grows: at the save after nothing is sure there."""
    states = [d for d, _ in sequence(560, 5, (2300, 2100))]
    trace = begin(grey(states[3]), states[3].truth())
    at = GROUPS["eye_l"]
    for d in states[4:]:
        trace, c = carry(trace, grey(d))
        off = np.hypot(*(c.points - d.truth()).T)[at] / d.hh
        assert not ((c.status[at] == SURE) & (off > 0.012)).any(), off


def test_too_little_to_follow_is_told() -> None:
    g = np.full((200, 200), 240, np.uint8)
    nothing = np.full((len(FRONT.names), 2), np.nan)
    with pytest.raises(LandmarkError, match="points have to be laid"):
        begin(g, nothing)
    tiny = nothing.copy()
    tiny[FRONT.index["vertex"]], tiny[FRONT.index["gnathion"]] = (50, 50), (50, 80)
    with pytest.raises(LandmarkError, match="40 pixels"):
        begin(g, tiny)
    tiny[FRONT.index["gnathion"]] = (50, 150)
    _, c = carry(begin(g, tiny), g)  # an empty page: followed, nothing sure, nothing broken
    assert (c.status != SURE).all() and np.isfinite(c.points[[FRONT.index["vertex"]]]).all()


def test_a_figure_is_followed_point_by_point() -> None:
    from orthomet.core.landmarks.views import SCHEMAS

    names = SCHEMAS["figure"].names
    rng = np.random.default_rng(3)
    page = np.full((900, 500), 240, np.uint8)
    x = np.full((len(names), 2), np.nan)
    for k, n in enumerate(names[:14]):
        x[k] = (120 + 20 * (k % 7) * 2, 60 + 55 * k)
        cv2.line(page, tuple(int(v) for v in x[k] - [14, rng.integers(2, 9)]), tuple(int(v) for v in x[k]), 60, 3, cv2.LINE_AA)
        cv2.line(page, tuple(int(v) for v in x[k]), tuple(int(v) for v in x[k] + [rng.integers(2, 9), 15]), 60, 3, cv2.LINE_AA)
        assert n
    x[names.index("vertex")], x[names.index("gnathion")] = (200, 40), (200, 140)
    shift = np.array([9.0, -6.0])
    moved = cv2.warpAffine(page, np.column_stack([np.eye(2), shift]), (500, 900), borderValue=240)
    _, c = carry(begin(page, x, "figure"), moved)
    drawn = [k for k in range(14) if names[k] not in ("vertex", "gnathion")]
    assert np.abs(c.points[drawn] - x[drawn] - shift).max() < 1.5


# ---- into the project


def picture(n: int, size: tuple[int, int] = (1000, 900)) -> Image:
    return Image(hash=f"{n:064x}", suffix="png", size=size)


def carried_of(marks: Marks, status: dict[str, int], by: Array | None = None, way: Array = SAME) -> Carried:
    x = np.full((len(FRONT.names), 2), np.nan)
    s = np.full(len(FRONT.names), SURE)
    for n, xy in marks.points.items():
        if n in FRONT.index:
            x[FRONT.index[n]] = put(way, np.array(xy))
            s[FRONT.index[n]] = status.get(n, SURE)
    return Carried(x if by is None else x + by, s, np.full(len(x), 5.0), way, "")


def test_carried_marks_keep_what_was_known_and_say_what_is_not() -> None:
    points = {
        "vertex": (500.0, 100.0),
        "gnathion": (500.0, 800.0),
        "stomion": (500.0, 640.0),
        "pronasale": (510.0, 520.0),
        "alare_l": (540.0, 530.0),
        "own_belt_a": (10.0, 20.0),
    }
    old = Marks(points=points, states={"stomion": State.ESTIMATED, "alare_r": State.ABSENT}, spread={"vertex": 4.0})
    new = carried_marks(old, carried_of(old, {"pronasale": ALONG, "alare_l": LOST}, way=turned(2.0, 0.0)))
    assert new.points["gnathion"] == (1000.0, 1600.0) and new.spread["vertex"] == pytest.approx(8.0)
    assert new.states["pronasale"] is new.states["alare_l"] is new.states["stomion"] is State.ESTIMATED
    assert "gnathion" not in new.states and "stomion" not in new.spread, "a seed nobody looked at stays a seed"
    assert new.states["alare_r"] is State.ABSENT and new.points["own_belt_a"] == (20.0, 40.0)


def test_a_save_keeps_the_state_before_and_yesterdays_and_where_they_lie_now() -> None:
    d = Drawing(id="d", name="Rough", image=picture(1), marks=Marks(points={"vertex": (5.0, 5.0), "gnathion": (5.0, 90.0)}))
    p = Project(characters=(Character(id="c", name="C", drawings=(d,)),))
    way = turned(1.0, 0.0) + [[0, 0, 10], [0, 0, 0]]
    for k, (n, day) in enumerate(((2, "26"), (3, "27"), (4, "27"), (5, "27"))):
        held = p.characters[0].drawings[0]
        p = take_save("c", "d", picture(n), carried_of(held.marks, {}, way=way), f"2026-11-{day}T10:0{k}:00+00:00")(p)
    d = p.characters[0].drawings[0]
    assert d.image == picture(5) and [e.image.hash[-1] for e in d.earlier] == ["1", "4"]
    assert d.earlier[0].way[2] == 40 and d.earlier[1].way[2] == 10 and d.marks.points["vertex"] == (45.0, 5.0)
    assert set(p.images()) >= {picture(1).hash, picture(4).hash, picture(5).hash}
    assert take_save("c", "d", picture(5), None, "2026-11-27T11:00:00+00:00")(p) == p
    other = take_save("c", "d", picture(6, (400, 300)), None, "2026-11-27T11:00:00+00:00")(p).characters[0].drawings[0]
    assert other.marks.points == d.marks.points and set(other.marks.estimated) == set(d.marks.points), (
        "nothing is lost, nothing is sure"
    )
    entry = Noted(when="2026-11-27T11:00:00+00:00", why="kept")
    for _ in range(3100):
        d = note("c", "d", entry)(Project(characters=(Character(id="c", name="C", drawings=(d,)),))).characters[0].drawings[0]
    assert len(d.log) == 3000


def test_what_happened_is_told_in_words() -> None:
    assert told(SAME, (10, 10), (10, 10), 500) == ""
    assert told(turned(0.9, 0.0), (10, 10), (9, 9), 500) == "canvas 10 × 10 → 9 × 9; smaller by 10 %"
    assert told(turned(1.0, 3.0), (10, 10), (10, 10), 500) == "turned 3.0° clockwise"
    assert told(SAME + [[0, 0, 12], [0, 0, -3]], (10, 10), (10, 10), 500) == "moved +12, -3 px"


# ---- profiles and figures


@pytest.mark.parametrize(
    ("who", "did", "moved", "by", "near"),
    [
        ("berta", "berta-side", ("stomion", "labiale_superius", "labiale_inferius", "sublabiale"), (0.0, 0.03), 0.008),
        ("berta", "berta-side", ("superaurale", "subaurale", "tragion"), (0.0, -0.03), 0.003),
        ("lorn", "lorn-drawn", "left forearm longer/shorter", -0.18, 0.012),
        ("lorn", "lorn-drawn", "right thigh longer/shorter", 0.12, 0.012),
        ("lorn", "lorn-drawn", "head larger/smaller", 0.12, 0.004),
        ("lorn", "lorn-drawn", "head larger/smaller", -0.12, 0.004),
        ("lorn", "lorn-drawn", "neck longer/shorter", 0.12, 0.004),
    ],
)
def test_a_profile_and_a_figure_are_followed(
    who: str, did: str, moved: tuple[str, ...] | str, by: tuple[float, float] | float, near: float
) -> None:
    """The page is bent as an artist would redraw it; limbs go further than features do."""
    page = demo_project()
    d = page.project.character(who).drawing(did)
    view, names = d.marks.view, SCHEMAS[d.marks.view].names
    picture = load(page.pictures[d.image.hash]).pixels[..., :3]
    x = np.array([d.marks.points.get(n, (np.nan, np.nan)) for n in names])
    hh = float(np.hypot(*np.subtract(d.marks.points["gnathion"], d.marks.points["vertex"]))) if view == "figure" else 560.0
    if isinstance(moved, str):
        step = float(by) * hh * next(m for m in figure_moves(x) if m.name == moved).field  # type: ignore[arg-type]
    else:
        step = np.zeros_like(x)
        step[[names.index(n) for n in moved]] = np.array(by) * hh
    before, after = (
        cv2.cvtColor(np.ascontiguousarray(p), cv2.COLOR_RGB2GRAY)
        for p in (picture, preview(picture, x, step, hh, view=view).at())
    )
    _, c = carry(begin(before, x, view), after)
    off = np.hypot(*(c.points - x - step).T) / hh
    went = np.hypot(*step.T) > 0.002 * hh
    assert np.nanmax(off[went]) < near, dict(zip(np.array(names)[went], off[went], strict=True))
    assert not ((c.status == SURE) & (np.nan_to_num(off) > 0.02)).any(), "none silently wrong"
    assert np.nanmedian(off[~went]) < 0.002
