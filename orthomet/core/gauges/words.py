"""What a gauge row says beside its scale: a word and a value, for what the row is looked at."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..plan.decisions import emphasis_word
from .item import STRONG, GaugeItem

Mode = Literal["reference", "plan", "check", "style"]
"""What a row is looked at for."""
Tone = Literal["ink", "soft", "plan", "draw", "look"]


@dataclass(frozen=True)
class Told:
    """``loud`` words stand out. Without a value the word takes its place too."""

    word: str
    tone: Tone = "soft"
    loud: bool = False
    value: str = ""
    value_tone: Tone = "ink"


def told(item: GaugeItem, mode: Mode, held: bool = False) -> Told | None:
    """What one row says; ``held`` while its mark is in the hand. ``None``: nothing."""
    if mode == "plan" and item.plan is not None:
        return _of_plan(item, item.plan, held)
    if mode == "style":
        return _of_style(item, item.style) if item.style is not None else None
    if item.missing:
        return Told(f"place {item.missing}", "look", True)
    if mode == "check":
        return _of_drawing(item, item.drawing) if item.drawing is not None else Told("not on the drawing")
    if item.reference is None:
        return None
    word = item.describe(item.reference) if item.has_scale else item.word
    loud = item.has_scale and abs(item.z(item.reference)) >= STRONG
    value = ("" if item.sure else "≈ ") + item.show(item.reference)
    return Told(word, "soft" if word == "as usual" else "ink", loud, value, "ink" if item.sure else "soft")


def _of_plan(item: GaugeItem, plan: float, held: bool) -> Told:
    value = item.show(plan)
    if held and item.reference is not None:
        d = plan - item.reference
        return Told(f"ref {'+' if d > 0 else '−'}{_size(item, d)}", "plan", True, value, "plan")
    tone: Tone = "plan" if held else "ink"
    if item.missing:
        return Told("assumed", "soft", False, value, tone)
    if abs(item.offset) > 1e-9:
        return Told("by hand", "plan", True, value, tone)
    e = item.emphasis
    return Told(emphasis_word(e), "plan" if e > 1 else "soft" if e < 1 else "ink", e > 1, value, tone)


def _of_style(item: GaugeItem, style: float) -> Told:
    value = item.show(style)
    if item.by_hand:
        return Told("by hand", "plan", True, value, "soft" if item.assumed else "ink")
    if item.assumed:
        return Told("as the norm", "soft", False, value, "soft")
    if item.signature:
        return Told("signature", "look", True, value)
    word = item.describe(style) if item.has_scale else ""
    return Told(word, "soft" if word == "as usual" else "ink", False, value)


def _of_drawing(item: GaugeItem, drawing: float) -> Told:
    d = drawing - (item.plan if item.plan is not None else drawing)
    off = item.tolerance is not None and abs(d) > item.tolerance
    side = item.high if d > 0 else item.low
    amount = _size(item, d)
    by = side if amount == _size(item, drawing) else f"{amount} {side}"  # a level's value is its amount already
    word = "meant" if item.meant else by if off else "agrees"
    loud = off and not item.meant
    return Told(word, "draw" if loud else "soft", loud, item.show(drawing))


def _size(item: GaugeItem, d: float) -> str:
    return item.show(abs(d)).lstrip("+")
