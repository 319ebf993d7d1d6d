"""The gate before ink: a short list in the order things are put right, each ticked, open or overruled."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.model import Character, Drawing, Study
from .check import Check, Finding
from .details import attached_on, counts_on
from .stages import Stage, stage_of
from .view import ViewCheck


@dataclass(frozen=True)
class GateRow:
    key: str
    words: str
    state: str
    """What is still open, in words; empty where all is well."""
    overruled: bool

    @property
    def open(self) -> bool:
        return bool(self.state) and not self.overruled


def gate(c: Character, d: Drawing, check: Check | ViewCheck | None, study: Study | None) -> tuple[GateRow, ...]:
    """What has to be right, or overruled, before a drawing is inked. ``check`` is ``None`` where it could not be checked."""
    rows = []
    for stage in Stage:
        n = sum(_stage(f, check) is stage for f in check.findings) if check is not None else 0
        state = "not checked yet" if check is None else f"{n} to put right" if n else ""
        rows.append((stage.name.lower(), stage.value, state))
    if study is not None and study.checklist:
        asked = sum(not v for v in study.checklist.values())
        rows.append(("manner", f"The manner of {study.title}", f"{asked} marks of it not told" if asked else ""))
    counted, attached = counts_on(c, d), attached_on(c, d)
    if counted:
        rows.append(("counted", "Counted details", _left([x.seen is None for x in counted], [x.off for x in counted])))
    if attached:
        rows.append(("attached", "Attachment lines", _left([x.seen is None for x in attached], [x.off for x in attached])))
    missing = [r.name for r in c.references if not r.credit]
    rows.append(("credit", "Credit of its references", f"none for {', '.join(missing[:2])}" if missing else ""))
    return tuple(GateRow(k, w, s, d.gate.get(k) == "overruled") for k, w, s in rows)


def _stage(f: Finding, check: Check | ViewCheck | None) -> Stage:
    return stage_of(f) if isinstance(check, Check) else Stage.PROPORTION


def _left(unseen: list[bool], off: list[bool]) -> str:
    told = [f"{sum(unseen)} not counted"] if any(unseen) else []
    told += [f"{sum(off)} differ" if sum(off) != 1 else "1 differs"] if any(off) else []
    return ", ".join(told)
