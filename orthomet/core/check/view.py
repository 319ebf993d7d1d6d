"""What a check of another view than the front face comes to."""

from __future__ import annotations

from dataclasses import dataclass

from .check import Finding


@dataclass(frozen=True, eq=False)
class ViewCheck:
    findings: tuple[Finding, ...]
    passed: tuple[str, ...]
    meant: tuple[str, ...]
    noise: float
    view: str
