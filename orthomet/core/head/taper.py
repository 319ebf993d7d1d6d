"""How wide the face is at a height: the smooth envelope that decides whether a feature fits.

Smooth on purpose: the nearest feasible plan steps along its slope, and a kink would keep it from settling. It stays
inside the drawn outline (:mod:`outline`), so what fits here fits there.
"""

from __future__ import annotations

CHEEK = 0.57
"""Station down to which the face keeps its full width (own)."""
JAW = 0.78
"""Station of the jaw's corner (own; Farkas' gonion lies a little below the mouth line)."""
CHIN_SHARE = 0.30
"""The envelope's width at the very chin, as a share of the chin's width (own)."""


def _ease(u: float) -> tuple[float, float]:
    """Smooth step 0→1 and its slope."""
    if u <= 0:
        return 0.0, 0.0
    if u >= 1:
        return 1.0, 0.0
    return u * u * (3 - 2 * u), 6 * u * (1 - u)


def taper(station: float, jaw: float, chin: float) -> tuple[float, float, float, float]:
    """Face width at ``station`` in face widths, with slopes by station, jaw width and chin width.

    ``W = 1 − (1 − jaw)·S(u) − (jaw − c·chin)·S(v)`` with ``S`` the smooth step over cheek–jaw and jaw–chin.
    """
    end = CHIN_SHARE * chin
    s, ds = _ease((station - CHEEK) / (JAW - CHEEK))
    q, dq = _ease((station - JAW) / (1 - JAW))
    w = 1 - (1 - jaw) * s - (jaw - end) * q
    by_station = -(1 - jaw) * ds / (JAW - CHEEK) - (jaw - end) * dq / (1 - JAW)
    return w, by_station, s - q, CHIN_SHARE * q
