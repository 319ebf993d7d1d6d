"""What became of a drawing's findings since an earlier check: nearer, farther off, new, gone, as they were."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from ..project.checked import Noted, NotedFinding, Why
from ..proportions.views import every_reading
from .check import Check, Finding
from .view import ViewCheck

STIRRED = 0.2
"""Share of its tolerance by which a reading has to move to count as moved (own)."""


class Course(StrEnum):
    BETTER = "better"
    WORSE = "worse"
    NEW = "new"
    SAME = "as it was"


@dataclass(frozen=True)
class Change:
    """One reading between two checks; differences are drawing − plan, heads (or what the reading is in)."""

    reading: str
    label: str
    before: float | None
    now: float | None
    tolerance: float
    course: Course
    passes: bool
    """Whether it is inside its tolerance now."""

    @property
    def words(self) -> str:
        """“+0.041 → +0.005 heads, passes now”."""
        told = [f"{v:+.3f}".replace("-", "−") for v in (self.before, self.now) if v is not None]
        amount = f"{' → '.join(told)} heads" if told else ""
        if self.passes:
            return f"{amount}, passes now"
        if self.now is None:
            return f"{amount}, not to be judged now"
        return f"{amount}, {self.course}"


def changes(before: Mapping[str, NotedFinding], check: Check | ViewCheck) -> tuple[Change, ...]:
    """Everything that was or is a finding, worst first."""
    now = {f.reading: f for f in check.findings}
    out = []
    for key in dict.fromkeys([*now, *before]):
        f, old = now.get(key), before.get(key)
        tolerance = f.tolerance if f is not None else old.tolerance if old is not None else 1.0
        off = f.difference_hh if f is not None else check.differences.get(key) if isinstance(check, Check) else None
        was = old.off if old is not None else None
        passes = f is None and (off is not None or key in check.passed)
        course = Course.BETTER if passes and off is None else _course(was, off, tolerance)
        out.append(Change(key, _label(key), was, off, tolerance, course, passes))
    return tuple(sorted(out, key=lambda c: (c.passes, -abs(c.now or 0) / c.tolerance)))


def _course(was: float | None, now: float | None, tolerance: float) -> Course:
    if was is None:
        return Course.NEW
    if now is None:
        return Course.SAME
    nearer = abs(was) - abs(now)
    if abs(nearer) < STIRRED * tolerance:
        return Course.SAME
    return Course.BETTER if nearer > 0 else Course.WORSE


def _label(key: str) -> str:
    known = every_reading()
    return known[key].label if key in known else key


def summary(rows: tuple[Change, ...]) -> str:
    """“1 better, 1 worse”, or that nothing changed."""
    counts = {c: sum(r.course is c for r in rows) for c in (Course.BETTER, Course.WORSE, Course.NEW)}
    told = [f"{n} {c}" for c, n in counts.items() if n]
    return ", ".join(told) or "nothing changed"


def noted(check: Check | ViewCheck, when: str, why: Why, basis: str = "") -> Noted:
    """A check as it is kept."""
    rows = [_noted(f) for f in check.findings if f.tolerance > 0]
    return Noted(when=when, why=why, basis=basis, findings=tuple(rows[:80]), passed=len(check.passed))


def _noted(f: Finding) -> NotedFinding:
    return NotedFinding(reading=f.reading[:80], off=float(f.difference_hh), tolerance=float(f.tolerance), say=f.say[:240])


def by_reading(entry: Noted | None) -> dict[str, NotedFinding]:
    return {f.reading: f for f in entry.findings} if entry is not None else {}
