"""Loose hair: fringe, sides and back as clumps that share their edges until they part."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..ink.surface import smooth_step
from ..kinds import Array
from .chart import PI, wrapped
from .masses import Ends, Flow, Masses

EAR = 1.72
"""Azimuth behind the ear, where the sides become the back."""
WHOLE = (1.0, 0.62, 1.25, 0.8, 0.5, 1.05)
NEAR, FAR = (1.0, 0.8), (0.9, 0.5, 1.2, 0.8)
"""Sizes of the fringe's clumps, whole or beside a parting: big, small and middling ones in turn, never even."""
BACK = (1.0, 0.66, 1.2, 0.75, 1.05, 0.6, 1.1, 0.8, 1.0)


@dataclass(frozen=True)
class Clump:
    """An interval of azimuths that ends together."""

    kind: str
    low: float
    high: float

    @property
    def middle(self) -> float:
        return (self.low + self.high) / 2

    @property
    def away(self) -> float:
        """Azimuth of its middle within ±π."""
        return float(wrapped(self.middle))


class Fall:
    """How loose hair lies: where it grows, which way it falls, where it ends."""

    def __init__(self, masses: Masses):
        self.masses, self.style, self.chart = masses, masses.style, masses.chart
        skull, p = masses.skull, masses.skull.head.table
        line, brow = p["hairline_station"], p["brow_station"]
        self.line = line
        self.temple = self.style.open * skull.temple
        self.ends = {
            "fringe": line + self.style.fringe * (brow - line),
            "side": skull.hang(self.style.sides, p["ear_top_station"] + 0.09),
            "back": skull.hang(self.style.back, skull.nape + 0.02),
        }

    def roots(self, azimuth: Array) -> Array:
        """From the whorl, or along the parting from the hairline back to the crown."""
        part = self.style.part
        if part is None:
            return np.full(np.shape(azimuth), 0.006)
        front = 0.93 * float(self.chart.hairline(part))
        away = np.abs(wrapped(azimuth) - part)
        return np.asarray(0.008 + (front - 0.008) * (1 - smooth_step(away / 1.9)))

    def bent(self, azimuth: Array, m: Array, root: Array, s: Array) -> Array:
        """The azimuth a hair that ends at ``azimuth`` has at ``m``."""
        style, part = self.style, self.style.part
        a = wrapped(azimuth)
        if part is None:
            out = azimuth - 0.22 * style.sway * (1 - np.clip(m / 0.9, 0, 1)) ** 2  # not combed with a ruler
        else:
            u = np.clip((m - root) / np.maximum(0.98 - root, 0.1), -0.12, 1)
            pull = (part - a) * (1 - smooth_step((np.abs(a) - 2.0) / 1.1))
            out = azimuth + pull * (1 - u) ** 2.1
        if style.wave:
            out = out + 2.6 * style.wave * np.sin(self.masses.phase(m, azimuth)) * smooth_step((m - 0.75) / 0.45)
        side = round(style.over)
        if side:
            b = np.where(a * side < -0.9, a + 2 * PI * side, a)  # the far side goes behind the neck
            to = 0.78 * side + 0.26 * (b - 1.7 * side)
            k = 0.92 * smooth_step((np.abs(a) - 1.55 + 0.5 * (a * side > 0)) / 0.7) * smooth_step((m - 1.08) / 0.85)
            out = np.where(k > 0, out + (to - b) * k, out)
        if style.swept:
            back = np.sign(a) * style.swept * 0.75 * np.maximum(s, 0) ** 1.4 * (np.abs(a) < 2.2)
            out = out + back * smooth_step((np.abs(a) - 0.2) / 0.5)
        return np.asarray(out)

    def clumps(self) -> list[Clump]:
        style, part, o = self.style, self.style.part, self.temple
        out: list[Clump] = []
        if style.fringe > 0:
            if part is None:
                out += _cut("fringe", -o, o, WHOLE)
            else:
                part = float(np.clip(part, -0.85 * o, 0.85 * o))
                out += _cut("fringe", -o, part, FAR if part > 0 else NEAR)
                out += _cut("fringe", part, o, NEAR if part > 0 else FAR)
        for side in (1, -1):
            cut = _cut("side", side * o, side * EAR, (0.7, 1.0) if o > 0.75 else (0.8, 0.6, 1.0))
            out += [Clump(c.kind, min(c.low, c.high), max(c.low, c.high)) for c in cut]
        return out + list(_cut("back", EAR, 2 * PI - EAR, BACK[: max(3, min(9, round(style.clumps)))]))

    def end(self, c: Clump, r1: float, r2: float) -> float:
        """Height a clump ends at: none exactly as its neighbour, none into a shoulder."""
        style, y, away = self.style, self.ends[c.kind], c.away
        if c.kind == "side":  # the front lock a little longer, the one over the ear shorter
            y += 0.02 * r1 + (0.03 if abs(away) < 1.2 else -0.015) * min(style.sides, 1)
        elif c.kind == "back":
            y += 0.025 * r1 * (0.4 + style.back / 3) * (0.4 if style.blunt else 1)
            if style.sides > 0:  # between side and back no step
                y = self.ends["side"] + (y - self.ends["side"]) * float(smooth_step(np.array((abs(away) - EAR) / 0.7)))
        else:
            y += 0.05 * (away / self.temple) ** 2 * (1 if style.fringe > 0.7 else 0.3)
            y += (0.006 if style.blunt else 0.018) * r1
            if style.part is not None:
                y -= 0.30 * (self.ends["fringe"] - self.line) * float(np.exp(-(((away - style.part) / 0.16) ** 2)))
        rests = min(self.chart.touch(c.low), self.chart.touch(c.middle), self.chart.touch(c.high))
        return min(y, rests - 0.012 + 0.01 * r2)


def _cut(kind: str, a: float, b: float, sizes: tuple[float, ...]) -> list[Clump]:
    at = a + (b - a) * np.concatenate([[0.0], np.cumsum(sizes)]) / sum(sizes)
    return [Clump(kind, x, y) for x, y in zip(at[:-1].tolist(), at[1:].tolist(), strict=True)]


def loose(masses: Masses) -> None:
    """Everything of a loose style."""
    fall = Fall(masses)
    style, every = masses.style, fall.clumps()
    over = bool(round(style.over))
    for i, c in enumerate(every):
        r1, r2 = masses.random(i, 1), masses.random(i, 2)
        end = masses.chart.m_of(fall.end(c, r1, r2), c.middle)
        draws_in = style.point + 0.06 * r2
        fade_from = float(np.clip(draws_in - 0.12 + 0.15 * r1, 0.28, 0.85))
        if c.kind == "back" and style.back < 0.5:
            draws_in = max(draws_in, 0.72)
        if c.kind == "back" and over:
            fade_from = 0.74
        if c.kind == "fringe":
            fade_from = 0.34 + 0.18 * (i % 3)
        lean = style.sway if c.kind == "fringe" else float(np.sign(c.away)) * -0.3 + 0.5 * style.sway
        lead = (0.75 if r2 > 0 else -0.75) * (1 if c.kind == "fringe" else 0.6)
        bow = min(0.072 * (c.high - c.low), 0.022)
        sway = (0.45 * lean + 0.30 * r2) * (0.35 if style.blunt else 1.0)
        ends = Ends(min(draws_in, 0.97), fade_from, bow, sway, float(np.clip(lead + 0.3 * lean, -0.9, 0.9)))
        from_parting = style.part is not None and float(fall.roots(np.array(c.middle))) > 0.10
        lift = (i % 3 - 1) * 0.008 + (0.008 if c.kind == "fringe" else 0.0)  # ends lie over one another
        masses.clump(_flow(fall, c, end), f"{c.kind} {i}", ends, lift, start=-0.014 if from_parting else 0.0)
        last = c.kind == "fringe" and i + 1 < len(every) and every[i + 1].kind != "fringe"
        if not (last or (c.kind == "fringe" and style.blunt) or (over and c.kind == "back")):
            _row_beneath(masses, fall, c, i, end, ends, r2)
    masses.crown()
    grounded = style.fringe > 0
    front = fall.temple + 0.35
    masses.cap("ground", under=-0.016, front=front, drawn_to=0.0 if grounded else fall.temple, deep=grounded)
    for points in _strands(masses, fall, every):
        masses.strand(points, lift=0.016)
    if style.part is not None:
        s = np.linspace(0, 1, 30)
        m = 0.06 + (0.97 * float(masses.chart.hairline(style.part)) - 0.06) * s
        on = masses.chart.at(m, np.full_like(m, style.part), 0.012)
        masses.line(on, 1.3 * np.clip(s / 0.5, 0, 1) * (0.4 + 0.6 * s), "parting", "ground")


def _flow(fall: Fall, c: Clump, end: float, shift: float = 0.0, share: float = 1.0) -> Flow:
    """The chart over a clump, set off by ``shift``, to ``share`` of its length."""
    low, high = c.low + shift, c.high + shift * (0.9 if shift else 1.0)

    def flow(e: Array, s: Array) -> tuple[Array, Array]:
        azimuth = (low + high) / 2 + e * (high - low) / 2
        root = fall.roots(azimuth)
        m = root + s * (end - root) * share
        return m, fall.bent(azimuth, m, root, s)

    return flow


def _row_beneath(masses: Masses, fall: Fall, c: Clump, i: int, end: float, ends: Ends, r2: float) -> None:
    """What lies between the ends: a second row, set off by half a clump away from the face, deeper and darker."""
    half = (c.high - c.low) / 2 * (1 if c.kind == "fringe" else float(np.sign(c.away)))
    beneath = Ends(min(ends.draws_in + 0.04, 0.9), max(ends.fade_from, 0.6), 0.6 * ends.bow, -ends.sway, -ends.lead)
    flow = _flow(fall, c, end, half, 0.96 + 0.05 * r2)
    masses.clump(flow, f"under {c.kind} {i}", beneath, -0.014, start=0.45, deep=True, rows=16, columns=5)


def _strands(masses: Masses, fall: Fall, every: list[Clump]) -> Iterator[Array]:
    """Lines within the clumps, some high, some low, as many as are wanted."""
    style = masses.style
    for i, c in enumerate(every):
        many = round((2 if c.high - c.low > 0.42 else 1) * style.strands)
        if c.kind == "fringe" and style.blunt and i % 2:
            continue
        for j in range(many):
            place = c.low + (c.high - c.low) * (0.5 + (j - (many - 1) / 2) * 0.84 / max(many, 2) + 0.12 * masses.random(i, j, 7))
            a = 0.15 + 0.07 * masses.random(i, j, 9)
            b = a + 0.30 + 0.16 * masses.random(i, j, 5)
            if (i + j) % 2:
                a, b = a + 0.30, min(b + 0.32, 0.93)
            s = np.linspace(a, b, 22)
            azimuth = np.full_like(s, place)
            root = fall.roots(azimuth)
            m = root + s * (masses.chart.m_of(fall.ends[c.kind], place) - root)
            yield masses.chart.at(m, fall.bent(azimuth, m, root, s), 0.020 + masses.waved(m))
