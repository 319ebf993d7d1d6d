"""How wide the face is at a height: the smooth envelope that decides whether a feature fits.

It follows the drawn outline (:mod:`outline`) through the same four stations, skull, cheek, jaw and chin, wherever a wild
face has them, and stays inside it but for a hundredth, so that what fits here fits there. Smooth on purpose: the nearest
feasible plan steps along its slope, and a kink would keep it from settling.
"""

from __future__ import annotations

import math

from .outline import CRANIUM_POWER, KnotStations

INSIDE = 0.965
"""Share of the skull's width that is counted on (own; so that smoothing never brings the outline inside the envelope)."""
SOFT = 0.02
"""Over how much of a width the smaller of two widths is rounded (own)."""
LATE, EARLY_JAW, EARLY_CHIN, EARLY_CAP = 0.4, 0.03, 0.015, 0.015
"""Where the runs between the stations begin: a share of skull–cheek, and heads above cheek, jaw and chin (own, tried)."""
STRAIGHT = 0.45
"""Share of the run from jaw to chin that is straight (own)."""
CHIN_LEFT = 0.25
"""The envelope's width at the very bottom, in chin widths (own)."""


def _ease(u: float) -> float:
    """Smooth step 0→1."""
    u = min(max(u, 0.0), 1.0)
    return u * u * (3 - 2 * u)


def _smaller(a: float) -> float:
    """The smaller of ``a`` and 1, rounded where they meet."""
    return (a + 1 - math.sqrt((a - 1) ** 2 + SOFT**2)) / 2


def taper(station: float, knots: KnotStations, skull: float, jaw: float, chin: float) -> float:
    """Face width at ``station`` in face widths; ``skull``, ``jaw`` and ``chin`` are widths in face widths too."""
    at_skull, at_cheek, at_jaw, at_chin = knots
    if station < at_skull:
        rise = min((at_skull - station) / at_skull, 1.0)
        return _smaller(INSIDE * skull * (1 - rise**CRANIUM_POWER) ** (1 / CRANIUM_POWER))
    top = _smaller(INSIDE * skull)
    start = at_skull + LATE * (at_cheek - at_skull)
    w = top + (1 - top) * _ease((station - start) / (at_cheek - start))
    start = at_cheek - EARLY_JAW
    w -= (1 - jaw) * _ease((station - start) / (at_jaw - start))
    start = at_jaw - EARLY_CHIN
    u = min(max((station - start) / (at_chin - start), 0.0), 1.0)
    w -= (jaw - chin) * (STRAIGHT * u + (1 - STRAIGHT) * _ease(u))
    start = at_chin - EARLY_CAP
    return w - (1 - CHIN_LEFT) * chin * _ease((station - start) / (1 - start))
