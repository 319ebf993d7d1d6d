"""Instructions in words: amounts in heads and on the page, and a move told as what to do."""

from __future__ import annotations

from .moves import Move

WAYS = {
    "Raise": "up", "Lower": "down", "Widen": "wider", "Narrow": "narrower", "Enlarge": "larger", "Shrink": "smaller",
    "Open": "open", "Close": "closed",
}  # fmt: skip
_SHORT = ("right", "left", "apart", "together", "longer", "shorter", "thinner", "thicker", "narrower", "wider", "larger", "smaller", "back",
          "forward", "up", "down")  # fmt: skip


def amount_words(heads: float, px: float, px_per_mm: float | None = None, degrees: float | None = None) -> str:
    """“0.020 heads (9 px)”, a tilt as “2.5° (9 px)”; in millimetres where the page's size is known.

    >>> amount_words(0.020, -9.2), amount_words(0.04, 9.0, px_per_mm=6.0), amount_words(0.0, 9.0, degrees=2.5)
    ('0.020 heads (9 px)', '0.040 heads (1.5 mm)', '2.5° (9 px)')
    """
    lead = f"{abs(heads):.3f} heads" if degrees is None else f"{abs(degrees):.1f}°"
    return f"{lead} ({on_page_words(px, px_per_mm)})"


def on_page_words(px: float, px_per_mm: float | None = None) -> str:
    """“9 px”, or “1.5 mm” where the page's size is known."""
    p = abs(px)
    return f"{p / px_per_mm:.1f} mm" if px_per_mm else f"{p:.0f} px" if p >= 1 else f"{p:.1f} px"


def moved_words(
    move: Move, amount: float, difference: float, px_per_head: float, px_per_mm: float | None = None, degrees: float | None = None
) -> tuple[str, str, str]:
    """A move as an instruction, its verb, and the same in short: a shift by how far it goes, everything else by how much its reading
    is off."""
    told = amount if move.shifts else difference
    words, size = amount_words(told, told * px_per_head, px_per_mm, degrees), on_page_words(told * px_per_head, px_per_mm)
    say = move.more if amount > 0 else move.less
    verb = say.split()[0]
    way = WAYS.get(verb) or next((w for w in _SHORT if w in say.split()), "")
    return f"{say} by {words}", verb.lower(), f"{size} {way}".strip()
