"""A cure as a redline: ghost outlines of where things should be, arrows, and notes in the margin, on a layer of its own."""

from __future__ import annotations

import re

import numpy as np

from ..check.cures import Cure
from ..check.moves import Move
from ..features.choices import PLAIN, FeatureChoices
from ..kinds import Array
from ..picture import Ink, Layer, Picture, Text, Trace, moved
from .ghosts import ghosts
from .groups import STILL, Anatomy, anatomy, moving

PX_MM = 25.4 / 96
"""Millimetres of one pixel of an exported redline (CSS 2.1)."""
LINE = 0.0052
"""Heads a ghost line is wide (own)."""
SHORTEST, LONGEST_FEW = 0.062, 4
"""Heads an arrow is long at least; arrows a move has at most (own)."""
LEAST_LETTERS = 0.34
"""Share of a figure's page that its words are sized by at least, as if a head were so tall (own)."""
SHOWN = 0.0015
"""Heads under which nothing is drawn (own)."""
NOTE, NUMBER = 0.036, 0.030
"""Heights of the words, heads (own)."""
BESIDE, SMALLEST = 0.17, 0.62
"""Heads of air about a note; how small it may become on a narrow page (own)."""
LETTER = 0.50
"""Usual width of a letter, as a share of its height."""


def redline(
    size: tuple[int, int],
    points: Array,
    cure: Cure,
    hh: float,
    choices: FeatureChoices = PLAIN,
    notes: bool = True,
    view: str = "front",
) -> Picture:
    """The redline of a drawing of ``size`` pixels with its landmarks ``(n, 2)``, in the same pixels; ``hh`` pixels a head."""
    step = np.nan_to_num(cure.step)
    body = anatomy(view)
    letters = hh if view != "figure" else max(hh, LEAST_LETTERS * size[1])  # a small head must not make small words
    wide = max(1.6, LINE * letters)
    which = moving(points, step, hh * SHOWN / STILL, body)
    arrows, ends = [], []
    for m in cure.moves:
        at = _stand(points, step, m, letters, body)
        ends.append([a for a, _ in at])
        for a, v in at:
            arrows += _arrow(a, v, wide, letters)
    words = _notes(size, points, cure, ends, letters, wide) if notes else []
    layers = (
        Layer("ghost", "Where it should be", tuple(ghosts(points, points + step, which, wide, hh, body, choices))),
        Layer("arrows", "What to move", tuple(arrows)),
        Layer("notes", "In words", tuple(words)),
    )
    return Picture(layers, (0, 0, *size), "Redline", "px")


def as_page(picture: Picture) -> Picture:
    """A redline in millimetres, to be written: at 96 dots an inch it has the drawing's own pixels."""
    return moved(picture, PX_MM, 0, 0, "mm")


def _stand(points: Array, step: Array, move: Move, hh: float, body: Anatomy) -> list[tuple[Array, Array]]:
    """Where a move's arrows stand and point: one in each feature that shifts, the outermost points of one that grows."""
    field = np.abs(np.nan_to_num(move.field)).max(1)
    out: list[tuple[Array, Array]] = []
    for at in body.pieces.values():
        hit = [i for i in at if field[i] > 1e-6 and np.isfinite(points[i]).all() and np.hypot(*step[i]) > 0.3]
        if not hit:
            continue
        d = step[hit]
        if move.shifts or (np.linalg.norm(d - d.mean(0), axis=1) < 0.25 * np.linalg.norm(d.mean(0)) + 0.3).all():
            out.append((points[hit].mean(0), d.mean(0)))
            continue
        kept: list[int] = []
        for i in sorted(hit, key=lambda i: -float(np.hypot(*step[i]))):
            if len(kept) < 2 and all(np.linalg.norm(points[i] - points[j]) > 0.06 * hh for j in kept):
                kept.append(i)
        out += [(points[i], step[i]) for i in kept]
    out.sort(key=lambda q: -float(np.hypot(*q[1])))
    few: list[tuple[Array, Array]] = []
    for q in out:
        if len(few) < LONGEST_FEW and all(np.linalg.norm(q[0] - o[0]) > 0.10 * hh for o in few):
            few.append(q)
    return few


def _arrow(at: Array, by: Array, wide: float, hh: float) -> list[Trace]:
    """A hand's arrow, a little bowed, with an open head; a short one starts before its place, so that it is seen."""
    long = max(float(np.hypot(*by)), 1e-6)
    u = by / long
    start = at - u * max(0.0, SHORTEST * hh - long)
    end = at + by
    v = end - start
    length = float(np.hypot(*v))
    n = np.array([-v[1], v[0]]) / length
    t = np.linspace(0, 1, 30)[:, None]
    c = start + v * t + n * (0.10 * length * 4 * t * (1 - t))
    tip = c[-1] - c[-4]
    tip = tip / np.linalg.norm(tip)
    side = np.array([-tip[1], tip[0]])
    head = min(max(3.0 * wide, 0.26 * length), 5.5 * wide)
    out = [Trace(np.array([start, end]), Ink.HALO, widths=np.full(2, 3.0 * wide))]
    out.append(Trace(c, Ink.REDLINE_DEEP, widths=np.linspace(0.7, 1.2, 30) * wide))
    for s in (1, -1):
        barb = np.array([end + tip * 0.2 * wide, end - tip * head + side * s * 0.5 * head])
        out.append(Trace(barb, Ink.REDLINE_DEEP, widths=np.array([1.1, 0.6]) * wide))
    return out


def two_lines(words: str) -> tuple[str, str]:
    """What to do, and by how much.

    >>> two_lines("Raise the mouth by 0.034 heads (19 px)"), two_lines("Make the left forearm 14 % shorter (27 px)")
    (('Raise the mouth', '0.034 heads (19 px)'), ('Make the left forearm', '14 % shorter (27 px)'))
    """
    found = re.match(r"(.+?) (?:by )?(\d.*)", words)
    return (found[1], found[2]) if found else (words, "")


def _room(rows: list[tuple[float, Array, str, str]]) -> float:
    """How wide the longest note is, heads."""
    return max((max(NOTE * len(r[2]), NUMBER * len(r[3])) * LETTER for r in rows), default=0.0)


def _fitting(size: tuple[int, int], points: Array, rows: list[tuple[float, Array, str, str]], hh: float) -> float:
    """By how much notes are made smaller so that they stand beside the drawing, not on it."""
    free = size[0] - float(np.nanmax(points[:, 0]))
    return float(np.clip(free / max((_room(rows) + BESIDE) * hh, 1e-9), SMALLEST, 1.0))


def _notes(
    size: tuple[int, int], points: Array, cure: Cure, ends: list[list[Array]], hh: float, wide: float
) -> list[Trace | Text]:
    """Notes level with what they are about, pushed apart, on leaders."""
    rows = []
    for words, at in zip(cure.words, ends, strict=True):
        if at:
            say, amount = two_lines(words)
            rows.append((float(np.mean([a[1] for a in at])), max(at, key=lambda a: a[0]), say, amount))
    rows.sort(key=lambda r: r[0])
    hh *= _fitting(size, points, rows, hh)
    tall = 0.095 * hh
    ys = [r[0] - tall / 2 for r in rows]
    for k in range(1, len(ys)):
        ys[k] = max(ys[k], ys[k - 1] + 1.15 * tall)
    over = max(0.0, (ys[-1] + tall - size[1]) if ys else 0.0)
    room = _room(rows) * hh
    x = min(float(np.nanmax(points[:, 0])) + 0.10 * hh, size[0] - room - 0.05 * hh)
    out: list[Trace | Text] = []
    for y, (_, end, say, amount) in zip([v - over for v in ys], rows, strict=True):
        left, top = x - 0.018 * hh, y - 0.006 * hh
        box = np.array([[left, top], [left + room + 0.036 * hh, top], [left + room + 0.036 * hh, top + tall], [left, top + tall]])
        out.append(Trace(box, Ink.REDLINE_GROUND, True, True))
        out.append(Trace(np.array([[left, top], [left, top + tall]]), Ink.REDLINE, widths=np.full(2, 0.9 * wide)))
        start = np.array([left, y + tall / 2])
        v = end - start
        long = float(np.hypot(*v))
        if long > 0.05 * hh:
            stop = start + v * (1 - 0.035 * hh / long)
            knee = start - [min(0.04 * hh, abs(float(v[0])) / 3), 0]
            out.append(Trace(np.array([start, knee, stop]), Ink.REDLINE, widths=np.full(3, max(1.0, 0.35 * wide))))
        out.append(Text((x, y + NOTE * hh), say, Ink.REDLINE_DEEP, NOTE * hh))
        out.append(Text((x, y + 0.077 * hh), amount, Ink.REDLINE_DEEP, NUMBER * hh))
    return out
