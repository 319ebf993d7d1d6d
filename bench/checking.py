"""The check and how often it names the true cause; baseline: one registration alone."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterable
from dataclasses import replace
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from orthomet.core.check.check import check
from orthomet.core.check.compare import How, compare
from orthomet.core.check.moves import Move, moves
from orthomet.core.check.profile import check_profile
from orthomet.core.check.profile_moves import profile_moves
from orthomet.core.check.turned import check_turned, depths_of
from orthomet.core.errors import LandmarkError
from orthomet.core.features.expression import NEUTRAL, expressions, weaker
from orthomet.core.head.turned import CENTRE
from orthomet.core.kinds import Array
from orthomet.core.landmarks.files import landmarks_to_text
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.register import register
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.landmarks.views import PROFILE
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.proportions.measure import measure
from orthomet.core.resolve import Face
from tests.faces import as_picture, marks_of, random_table
from tests.profiles import AT, PROFILED

from .timing import once, report


def run() -> None:
    rng = np.random.default_rng(1)
    plan = make_plan(measure(marks_of(random_table(rng, 0.6))), Decisions(style_weight=0.3)).points
    first_four = tried_all = 0
    times, base, quick = [], [], []
    for size, goal, words in ((1, 0.95, "single"), (2, 0.88, "double")):
        right = tried = 0
        for _ in range(200):
            off, names = _faulted(plan, rng, size)
            tall = rng.uniform(300, 1500)
            x = as_picture(plan + off, tall, rng.uniform(-0.3, 0.3)) + rng.normal(size=off.shape) * NOISE * tall
            marks = from_array(x)
            try:
                c = check(marks, plan)
            except LandmarkError:
                continue
            tried += 1
            right += _told(c.fix.moves) == names
            first_four += names in [_told(c.fix.moves), *(_told(r.moves) for r in c.fix.rivals[:3])]
            times.append(once(partial(check, marks, plan)))
            base.append(once(partial(register, marks.array(), plan)))
            quick.append(once(partial(check, from_array(x + 0.5), plan, since=c)))
        report(f"true cause of {words} faults named", f"{right / tried:.0%} of {tried}", f"≥ {goal:.0%}", right / tried >= goal)
        tried_all += tried
    share = first_four / tried_all
    report("true cause within the first four", f"{share:.0%} of {tried_all}", "≥ 96%", share >= 0.96)
    clean = sum(
        bool(check(from_array(as_picture(plan, t, 0.1) + rng.normal(size=plan.shape) * NOISE * t), plan).findings)
        for t in rng.uniform(300, 1500, 200)
    )
    report("drawings as planned with any finding", f"{clean / 200:.1%} of 200", "≤ 5%", clean <= 10)
    for words, t, ms in (("exhaustive", times, 50), ("greedy", quick, 3)):
        median = np.median(t)
        report(
            f"a check, {words}",
            f"{1e3 * median:.1f} ms, {median / np.median(base):.0f} × registration",
            f"≤ {ms} ms",
            bool(median <= ms / 1e3),
        )
    _turned(np.random.default_rng(4))
    _worn(np.random.default_rng(7))
    _profiles(np.random.default_rng(8))
    _batch(np.random.default_rng(9))


def _profiles(rng: np.random.Generator) -> None:
    """Profiles with one or two named moves between .03 and .06; baseline of the time: measuring the same points."""
    x = np.array([AT.get(n, (np.nan, np.nan)) for n in PROFILE.names])
    named = profile_moves(x)
    plan = {k: v for k, v in measure(from_array(x, PROFILE)).table.items() if k in PROFILED}
    for size, words, goal in ((1, "single", 0.95), (2, "double", 0.0)):
        first = four = alarms = 0
        times, base = [], []
        for _ in range(200):
            chosen = [named[k] for k in rng.choice(len(named), size, replace=False)]
            off = sum((m.field * rng.choice([-1, 1]) * rng.uniform(0.03, 0.06) for m in chosen), np.zeros_like(x))
            tall, way = rng.uniform(300, 1500), rng.choice([-1, 1])
            right, wrong = (
                from_array((p + rng.normal(0, NOISE, x.shape)) * tall * [way, 1] + 2000, PROFILE) for p in (x, x + off)
            )
            alarms += bool(check_profile(right, plan).findings)
            c = check_profile(wrong, plan)
            names = {m.name for m in chosen}
            first += _told(c.fix.moves) == names
            four += names in [_told(c.fix.moves), *(_told(r.moves) for r in c.fix.rivals[:3])]
            times.append(once(partial(check_profile, wrong, plan)))
            base.append(once(partial(measure, wrong)))
        report(
            f"profiles, true cause of {words} faults named",
            f"{first / 200:.0%} of 200",
            f"≥ {goal:.0%}" if goal else "(for information)",
            first >= goal * 200,
        )
        report("… within the first four", f"{four / 200:.0%}", "(for information)", True)
        report("… nothing planted: any finding", f"{alarms / 200:.1%}", "≤ 5%", alarms <= 10)
    t, b = float(np.median(times)), float(np.median(base))
    report("a profile's check", f"{1e3 * t:.0f} ms, {t / b:.1f} × measuring it", "≤ 50 ms", t <= 0.05)


def _told(told: Iterable[Move]) -> set[str]:
    return {m.name for m in told}


def _planned(rng: np.random.Generator) -> Face:
    plan = make_plan(measure(marks_of(random_table(rng, 0.6))), Decisions(style_weight=0.3))
    return Face(dict(plan.table), plan.points)


def _faulted(points: Array, rng: np.random.Generator, size: int) -> tuple[Array, set[str]]:
    """What some named moves add to points, ``(n, 2)`` heads, and their names."""
    named = moves(points)
    chosen = rng.choice(len(named), size, replace=False)
    off = np.zeros_like(points)
    for k in chosen:
        off = off + np.nan_to_num(named[k].field) * rng.choice([-1, 1]) * rng.uniform(0.03, 0.06)
    return off, {named[k].name for k in chosen}


NOISE = 0.003
"""Heads a point is jittered by."""
AUTO = How("front", "auto", noise=NOISE)


def _turned(rng: np.random.Generator) -> None:
    """Three-quarter heads, the pose unknown; baseline of the time: the same check of the front."""
    first = alarms = 0
    times, base, away = [], [], []
    heads = 120
    for _ in range(heads):
        head = depths_of(_planned(rng))
        turn = Turn(yaw=rng.choice([-1, 1]) * rng.uniform(25, 35), pitch=rng.uniform(-10, 10), roll=rng.uniform(-6, 6))
        off, named = _faulted(head.front, rng, 1)
        for fault in (False, True):
            xyz = head.xyz + np.pad(off * fault, ((0, 0), (0, 1)))
            q = (xyz - CENTRE) @ rotation(turn)[:2].T + rng.normal(size=off.shape) * NOISE
            marks = from_array(850 * q + 900)
            c, found = check_turned(marks, head, noise=NOISE)
            if not fault:
                alarms += bool(c.findings)
                away.append(abs(found.turn.yaw - turn.yaw))
                continue
            first += bool(c.findings) and c.findings[0].move is not None and c.findings[0].move.name in named
            times.append(once(partial(check_turned, marks, head, noise=NOISE)))
            front = from_array(850 * (head.front + off) + 900)
            base.append(once(partial(check, front, head.front, noise=NOISE)))
    report("¾ heads, the fault named first", f"{first / heads:.0%} of {heads}", "≥ 90 %", first / heads >= 0.90)
    report("¾ heads as planned with any finding", f"{alarms / heads:.1%}", "≤ 5 %", alarms / heads <= 0.05)
    report("¾ heads, yaw found within", f"{np.percentile(away, 95):.2f}° (95 %)", "(for information)", True)
    ms = 1e3 * np.median(times)
    report(
        "check of a turned head, its pose found",
        f"{ms:.0f} ms, {np.median(times) / np.median(base):.1f} × the front's",
        "(for information)",
        True,
    )


def _worn(rng: np.random.Generator) -> None:
    """Faces read from drawings at 50 to 100 % of a preset; faulted ones at rest must not be taken for any."""
    read = tried = taken = rested = 0
    for _ in range(8):
        face = _planned(rng)
        for name, e in expressions().items():
            if e == NEUTRAL:
                continue
            xyz = depths_of(replace(face, expression=weaker(e, rng.uniform(0.5, 1)))).xyz
            told = compare(from_array(850 * (xyz[:, :2] + rng.normal(size=(len(xyz), 2)) * NOISE)), face, (), AUTO)
            read, tried = read + (told.expression == name), tried + 1
        for size in (0, 1, 2):
            off, _ = _faulted(face.points, rng, size)
            q = face.points + off + rng.normal(size=off.shape) * NOISE
            taken += compare(from_array(850 * q), face, (), AUTO).expression != "neutral"
            rested += 1
    report("faces made, read by name", f"{read / tried:.0%} of {tried}", "(for information)", True)
    report("faces at rest taken for another", f"{taken / rested:.0%} of {rested}", "≤ 5 %", taken / rested <= 0.05)


def _batch(rng: np.random.Generator) -> None:
    """500 drawings on two cores; baseline: the same on one."""
    face = _planned(rng)
    with TemporaryDirectory() as folder:
        for i in range(500):
            off, _ = _faulted(face.points, rng, 1)
            file = Path(folder) / f"{i}.json"
            file.write_text(landmarks_to_text(from_array(850 * (face.points + off) + 900)))
        plan = Path(folder) / "plan" / "plan.json"
        plan.parent.mkdir()
        plan.write_text(landmarks_to_text(from_array(850 * face.points + 900)))
        code = (  # as the command runs: a process of its own, whose linear algebra keeps to one thread
            "import os; os.environ['OPENBLAS_NUM_THREADS'] = '1'\n"
            "import sys, time; from orthomet.core.check.batch import *\n"
            "d, a = drawings_in([sys.argv[1]]), against_of(sys.argv[2], 0.003)\n"
            "for jobs in (1, 2, 1, 2):\n    t = time.perf_counter(); check_all(d, a, jobs); print(time.perf_counter() - t)"
        )
        out = subprocess.run(
            [sys.executable, "-c", code, folder, str(plan)], capture_output=True, text=True, check=True
        ).stdout.split()
        one, two = min(float(out[0]), float(out[2])), min(float(out[1]), float(out[3]))
    report(
        "500 drawings checked on two cores", f"{one / two:.2f} × faster than on one ({two:.1f} s)", "≥ 1.7 ×", one / two >= 1.7
    )
