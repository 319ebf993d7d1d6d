"""Shapes: fits and classes on noisy outlines, the dial and pushes, relations under the hand, a large mask, silhouettes taken apart."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from PySide6.QtGui import QImage, QPainter
from skimage.measure import approximate_polygon, find_contours

from orthomet.app import render
from orthomet.app.application import make_application
from orthomet.app.looks import screen_looks
from orthomet.app.theme.tokens import theme
from orthomet.core.head.outline import RESIDUAL_KEYS, half_width, width_at
from orthomet.core.shapes.apart import take_apart
from orthomet.core.shapes.contour import area, evened, simple, size_of, traced
from orthomet.core.shapes.detail import Dial
from orthomet.core.shapes.drawn import lifted
from orthomet.core.shapes.fit import choose, fit
from orthomet.core.shapes.head_class import built_after, half_at, unit
from orthomet.core.shapes.holding import System
from orthomet.core.shapes.masks import contour_of, filled
from orthomet.core.shapes.plain import KINDS, Plain, circle_of, made
from orthomet.core.shapes.push import TRAITS, pair, pushed
from orthomet.core.shapes.relations import Body, found, tree
from orthomet.core.shapes.scene import bodies_of, scene
from orthomet.demo.project import demo_project
from tests.creatures import ROWS, mask_of
from tests.outlines import blob, drawn, random_shape, trembling

from .timing import alternating, once, report

EACH, PUSHES, HEADS_TRACED = 100, 5000, 60


def run() -> None:
    make_application()
    _classes()
    _dial()
    _pushes()
    _under_the_hand()
    _mask()
    _apart()
    _skulls()


def confusion(each: int = EACH) -> tuple[np.ndarray, dict[str, list[float]], dict[str, list[float]], list[float]]:
    """Rows drawn, columns named; relative errors of the sizes, seconds a fit, and seconds for all kinds."""
    rng = np.random.default_rng(11)
    names = list(KINDS)
    table = np.zeros((len(names), len(names)), int)
    off: dict[str, list[float]] = {k: [] for k in names}
    took: dict[str, list[float]] = {k: [] for k in names}
    whole = []
    for i, kind in enumerate(names):
        for n in range(each):
            s = random_shape(rng, kind)
            c = drawn(rng, s)
            choice = choose(c)
            table[i, names.index(choice.best.kind)] += 1
            f = next(f for f in choice.fits if f.kind == kind).shape
            mine, true = sorted((f.width, f.height)), sorted((s.width, s.height))
            off[kind].append(max(abs(a / b - 1) for a, b in zip(mine, true, strict=True)))
            if n < 12:
                took[kind].append(once(lambda c=c, kind=kind: fit(kind, c)))
                whole.append(once(lambda c=c: choose(c)))
    return table, off, took, whole


def _classes() -> None:
    table, off, took, whole = confusion()
    right = float(table.trace() / table.sum())
    report(f"{table.sum()} noisy outlines: the right class", f"{right:.1%}", "≥ 95 %", right >= 0.95)
    worst = max((float(np.median(v)), k) for k, v in off.items())
    report("sizes under 2 px noise on 300 px, the worst kind's median", f"{worst[0]:.2%} ({worst[1]})", "≤ 1 %", worst[0] <= 0.01)
    slow = max((float(np.median(v)), k) for k, v in took.items())
    report("one fit, the slowest kind's median", f"{1e3 * slow[0]:.1f} ms ({slow[1]})", "≤ 5 ms", slow[0] <= 0.005)
    report("all ten kinds", f"{1e3 * float(np.median(whole)):.0f} ms", "≤ 40 ms", np.median(whole) <= 0.040)


def _dial() -> None:
    rises = crossed = 0
    step = []
    for seed in range(12):
        c, corners = blob(seed)
        dial = Dial(c, corners, choose(c).best.shape.outline())
        shown = [dial.at(x) for x in np.linspace(0, 1, 201)]
        away = [float(np.hypot(*(v - c).T).max()) for v in shown]
        rises += sum(b > a + 1e-9 * size_of(c) for a, b in pairwise(away))
        crossed += sum(not simple(v) for v in shown)
        step += [once(lambda d=dial, x=x: d.at(x)) for x in np.linspace(0.03, 0.97, 10)]
    report(
        "detail dial, 2,412 positions: rises of the distance", f"{rises} ({crossed} crossings)", "0", rises == 0 and crossed == 0
    )
    report("… a position of it", f"{1e3 * float(np.median(step)):.2f} ms", "(for information)", True)


def _pushes() -> None:
    rng = np.random.default_rng(2)
    crossed = limited = 0
    off = 0.0
    for k in range(PUSHES // 50):
        c = blob(100 + k)[0]
        p = pair(c, circle_of(c).outline(240))
        off = max(off, float(np.abs(pushed(p, dict.fromkeys(TRAITS, 1.0)).outline - c).max()) / size_of(c))
        for _ in range(50):
            e = {t: float(rng.uniform(-1, 3)) for t in TRAITS if t != "angularity" or rng.random() < 0.3}
            r = pushed(p, e)
            crossed += not simple(r.outline) or area(r.outline) <= 0
            limited += bool(r.limits)
    report(
        f"{PUSHES} random pushes: outlines that cross themselves",
        f"{crossed} ({limited / PUSHES:.0%} with a limit told)",
        "0",
        crossed == 0,
    )
    report("… all at 1: departure from the contour", f"{off:.0e}", "≤ 1e-9", off <= 1e-9)


def _under_the_hand() -> None:
    project = demo_project().project
    klinker, berta = (next(c.shapes for c in project.characters if c.id == n) for n in ("klinker", "berta"))
    s = scene(klinker, {})
    bodies = bodies_of(s)
    system = System(bodies, s.relations, None, True)
    middle = {b.id: b.middle for b in bodies}
    root = next(n for n, m in tree(bodies).items() if not m)
    rng = np.random.default_rng(1)
    took, worst, reversed_ = [], 0.0, 0
    for _ in range(60):
        by = rng.normal(0, 0.05 * s.box[3], 2)
        hand = {root: (float(middle[root][0] + by[0]), float(middle[root][1] + by[1]))}
        took.append(once(lambda hand=hand: system.solve(hand)))
        done = system.solve(hand)
        worst, reversed_ = max(worst, done.worst), reversed_ + done.reversed
    report(
        f"{len(bodies)} parts solved while one is dragged",
        f"{1e3 * float(np.median(took)):.1f} ms",
        "≤ 10 ms",
        np.median(took) <= 0.010,
    )
    report("… the worst relation", f"{worst:.4f} heights, {reversed_} out of order", "≤ .02, 0", worst <= 0.02 and not reversed_)
    target = QImage(1280, 800, QImage.Format.Format_ARGB32_Premultiplied)
    shown = lifted(scene(berta, {}))
    amounts = iter(np.linspace(0.2, 2.5, 400))

    def dialled() -> None:
        v = float(next(amounts)) / 3
        parts = tuple(p.model_copy(update={"detail": v}) if p.role == "head" else p for p in berta.parts)
        scene(berta.model_copy(update={"parts": parts}), {})

    def stressed() -> None:
        v = float(next(amounts))
        parts = tuple(p.model_copy(update={"emphasis": {"aspect": v}}) if p.role == "nose" else p for p in berta.parts)
        scene(berta.model_copy(update={"parts": parts}), {})

    def qt() -> None:
        target.fill(0xFFFFFFFF)
        p = QPainter(target)
        p.translate(640, 60)
        for dx in (-300, 300):  # both panes
            p.save()
            p.translate(dx, 0)
            render.paint(p, shown, 600, screen_looks(theme.t), 1.0)
            p.restore()
        p.end()

    for words, ours in (("the detail dial", dialled), ("a push", stressed)):
        mine, base = alternating(ours, qt, 40)
        ratio = float(np.median(mine) / np.median(base))
        report(
            f"{words} under the hand against Qt painting both panes",
            f"{ratio:.2f} ({1e3 * float(np.median(mine)):.1f} ms)",
            "≤ 1",
            ratio <= 1,
        )


def _mask() -> None:
    m = filled(blob(7)[0] * 9 + [2000, 1500], (3000, 4000)).astype(np.uint8)

    def ours() -> None:
        contour_of(m)

    def theirs() -> None:
        c = max(find_contours(m, 0.5), key=len)
        approximate_polygon(c, 2.0)

    mine, base = alternating(ours, theirs, 3)
    ratio = float(np.median(base) / np.median(mine))
    seconds = float(np.median(mine))
    report("12 megapixel mask to a smooth contour", f"{seconds:.3f} s", "≤ 0.4 s", seconds <= 0.4)
    report("… times as fast as find_contours and approximate_polygon", f"{ratio:.1f} ×", "≥ 5 ×", ratio >= 5)


def _apart() -> None:
    least, slow, most, off = 1.0, 0.0, 0, 0.0
    for name in ROWS:
        m, _ = mask_of(name)
        slow = max(slow, once(lambda m=m: take_apart(m, 10)))
        a = take_apart(m, 10)
        least, most = min(least, a.overlap), max(most, len(a.shapes))
        bodies = [Body(str(k), f"part {k}", s) for k, s in enumerate(a.shapes)]
        p = bodies[0].shape.p.copy()
        p[3 : 3 + KINDS[bodies[0].shape.kind].sizes] += np.log(1.3)
        done = System(bodies, found(bodies), {bodies[0].id: Plain(bodies[0].shape.kind, p)}).solve()
        off = max(off, done.worst)
    report(
        f"{len(ROWS)} figures taken apart into ≤ {most} shapes: least overlap",
        f"{least:.3f}",
        "≥ .92",
        least >= 0.92 and most <= 10,
    )
    report("… the slowest", f"{slow:.2f} s", "≤ 2 s", slow <= 2)
    report("… the largest part × 1.3: worst relation", f"{off:.4f} heights", "≤ .02", off <= 0.02)


def _skulls() -> None:
    rng = np.random.default_rng(6)
    table = {
        "eye_station": 0.505,
        "nose_base_station": 0.695,
        "mouth_station": 0.79,
        "head_width_hh": 0.65,
        "face_width_hh": 0.6,
        "jaw_width_fw": 0.8,
        "chin_width_fw": 0.45,
    }
    away = []
    t = np.linspace(0.03, 0.97, 80)
    for _ in range(HEADS_TRACED):
        s = made("egg", 0, 0.5, float(rng.uniform(0.55, 0.85)), 1.0, (float(rng.uniform(-0.3, 0.2)),))
        c = unit(evened(traced(trembling(s.outline(600) * 300, rng, 2.0))[0], 0.0)[0])
        b = built_after(c, table)
        half = half_width({**table, **b.widths, **dict(zip(RESIDUAL_KEYS, b.departures, strict=True))})
        away.append(float(np.abs(width_at(half, t) - half_at(c, t)).mean()))
    report(
        "a traced skull met by the head's construction, mean",
        f"{np.mean(away):.4f} heads (worst {max(away):.4f})",
        "≤ .01",
        max(away) <= 0.01,
    )
