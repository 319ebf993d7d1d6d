"""A set of figures, and one of profiles: what creeps from page to page, and which page departs."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from orthomet.core.check.drift import TraitDrift, when, words_of
from orthomet.core.check.figure_moves import figure_moves
from orthomet.core.derived import Supposed
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.kinds import Array
from orthomet.core.landmarks.turn import Turn
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.pose.bones import posed
from orthomet.core.pose.library import pose
from orthomet.core.pose.marked import marked
from orthomet.core.pose.model import STANDING, Posing
from orthomet.core.project.model import Marks, Project
from orthomet.demo.project import demo_project


def rows_of(p: Project, who: str, did: str, view: str) -> tuple[dict[str, TraitDrift], tuple]:
    drawn, rows = Supposed(p, who, "", did).drift("", view)
    return {r.key: r for r in rows}, drawn


def figures(longer: float, odd: int, n: int = 8) -> Project:
    """Lorn upright and walking by turns, seen from changing sides; his forearms grow by so many heads a page, one thigh is off."""
    p, rng = demo_project().project, np.random.default_rng(5)
    lorn = p.character("lorn")
    assert lorn is not None
    skeleton = mannequin(Supposed(p, "lorn", "").figure_plan_of("").build, False).skeleton
    poses = (STANDING, pose("walking"))
    pages = []
    for k in range(n):
        at = marked(posed(skeleton, poses[k % len(poses)]), Turn(yaw=float(rng.uniform(-20, 20))))
        x = np.array([at.get(name, (np.nan, np.nan)) for name in FIGURE.names])
        x = x + longer * k * moved(x, "forearms longer/shorter")
        x = x + 0.3 * (k == odd) * moved(x, "left thigh longer/shorter")
        x = 90 * x + [300, 60] + rng.normal(0, 0.25, x.shape)
        points = {name: (float(a), float(b)) for name, (a, b) in zip(FIGURE.names, x, strict=True) if np.isfinite(a)}
        new = {
            "id": f"f{k}",
            "name": f"Figure {k + 1}",
            "made": f"2026-{k + 1:02d}-12",
            "marks": Marks(view="figure", points=points),
        }
        pages.append(lorn.drawings[0].model_copy(update=new))
    who = lorn.model_copy(update={"drawings": tuple(pages), "posing": Posing(pose=poses[1])})
    return p.model_copy(update={"characters": tuple(who if c.id == "lorn" else c for c in p.characters)})


def moved(x: Array, name: str) -> Array:
    return next(m.field for m in figure_moves(x) if m.name == name)


def test_forearms_that_grow_from_pose_to_pose_creep_and_one_thigh_departs() -> None:
    told, drawn = rows_of(figures(0.03, odd=3), "lorn", "f0", "figure")
    arm, thigh = told["forearm_hh"], told["thigh_hh"]
    assert len(drawn) == 8 and arm.creeps and arm.change == pytest.approx(0.21, abs=0.03)
    assert words_of(arm, drawn) == f"has crept {100 * arm.change / arm.plan:.0f} % longer since January"
    assert arm.p == pytest.approx(stats.linregress(when(drawn), arm.values).pvalue)
    assert thigh.departs == (3,) and not thigh.creeps and words_of(thigh, drawn) == "departs on Figure 4"
    steady = [r for k, r in told.items() if k not in ("forearm_hh", "thigh_hh")]
    assert len(steady) >= 6 and not any(r.creeps or r.departs or abs(r.off) > 0.6 for r in steady)
    assert told["upper_arm_hh"].mean == pytest.approx(told["upper_arm_hh"].plan, rel=0.02)


def test_a_figure_set_as_planned_is_steady_and_a_pose_nobody_declared_tells_no_lengths() -> None:
    p = figures(0.0, odd=-1)
    told, _ = rows_of(p, "lorn", "f0", "figure")
    assert not any(r.creeps or r.departs for r in told.values()) and np.isfinite(told["forearm_hh"].values).all()
    lorn = p.character("lorn")
    assert lorn is not None
    nobody = lorn.model_copy(update={"posing": Posing()})
    other = p.model_copy(update={"characters": tuple(nobody if c.id == "lorn" else c for c in p.characters)})
    _, told_by = rows_of(other, "lorn", "f0", "figure")
    assert [d.name for d in told_by] == ["Figure 1", "Figure 3", "Figure 5", "Figure 7"], "a bent arm seen short tells no length"


def test_a_nose_that_grows_in_profile_creeps_and_the_fault_of_all_pages_is_told_once() -> None:
    p = demo_project().project
    berta = p.characters[0]
    side, rng = berta.drawing("berta-side"), np.random.default_rng(6)
    assert side is not None
    pages = []
    for k in range(7):
        points = {
            n: (x + 5 * k * (n == "pronasale") + rng.normal(0, 0.7), y + rng.normal(0, 0.7))
            for n, (x, y) in side.marks.points.items()
        }
        new = {
            "id": f"s{k}",
            "name": f"Side {k + 1}",
            "made": f"2026-{k + 1:02d}-12",
            "marks": side.marks.model_copy(update={"points": points}),
        }
        pages.append(side.model_copy(update=new))
    who = berta.model_copy(update={"drawings": tuple(pages)})
    told, drawn = rows_of(p.model_copy(update={"characters": (who, *p.characters[1:])}), "berta", "s0", "profile")
    nose, mouth = told["nose_depth_hh"], told["mouth_station"]
    tall = side.marks.points["gnathion"][1] - side.marks.points["vertex"][1]
    assert [d.name for d in drawn] == [f"Side {k}" for k in range(1, 8)] and nose.creeps
    assert nose.change == pytest.approx(30 / tall, rel=0.25) and "longer since January" in words_of(nose, drawn)
    assert words_of(mouth, drawn).startswith("down 0.03") and words_of(mouth, drawn).endswith("in all of them")
