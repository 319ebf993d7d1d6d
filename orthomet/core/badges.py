"""What the rail's lozenges say: worked out from the document alone, so that no station has to be built for it."""

from __future__ import annotations

from collections.abc import Callable

from .check.check import Check
from .check.view import ViewCheck
from .derived import Derived
from .figure.match import GOOD, TITLES
from .landmarks.points import State
from .landmarks.views import SCHEMAS

Badge = tuple[str, str]
"""Number for the lozenge and the words behind it; both empty for nothing to say."""
NOTHING: Badge = ("", "")


def reference(document: Derived) -> Badge:
    c = document.character
    ref = c.reference if c else None
    if ref is None:
        return NOTHING
    n = len(ref.marks.estimated)
    if n:
        return str(n), f"{n} points are only estimated."
    if ref.marks.only_own:
        return NOTHING
    points, states = ref.marks.points, ref.marks.states
    gone = sum(k not in points and states.get(k) is not State.ABSENT for k in SCHEMAS[ref.marks.view].essential)
    return (str(gone), f"{gone} essential points are missing.") if gone else NOTHING


def plan(document: Derived) -> Badge:
    n = len(document.plan().limits) if document.character is not None else 0
    return (str(n), f"{n} limits reached.") if n else NOTHING


def figure(document: Derived) -> Badge:
    if document.character is None:
        return NOTHING
    n, m = len(document.figure_plan().limits), document.match()
    words = [f"{n} limits of the body reached."] if n else []
    if m.verdict not in GOOD:
        n, words = n + 1, [*words, f"{TITLES[m.verdict]}."]
    return (str(n), " ".join(words)) if n else NOTHING


def check(document: Derived) -> Badge:
    d = document.drawing
    if d is None or not d.marks.points:
        return NOTHING
    found = document.check_view()
    n = len(found.findings) if isinstance(found, Check | ViewCheck) else 0
    n += sum(o.off and o.reading not in d.meant for o in document.check_own())
    return (str(n), f"{n} things differ from the plan.") if n else NOTHING


BADGES: dict[str, Callable[[Derived], Badge]] = {"Reference": reference, "Plan": plan, "Figure": figure, "Check": check}
"""Stations that may have something to say."""


def badge(name: str, document: Derived) -> Badge:
    return BADGES[name](document) if name in BADGES else NOTHING
