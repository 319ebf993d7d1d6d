"""Drawings that ask to be looked at again."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.model import Project


@dataclass(frozen=True)
class Due:
    character: str
    drawing: str
    name: str
    """The drawing's, with its character's."""


def due(project: Project, today: str) -> tuple[Due, ...]:
    """What asks from today (ISO 8601) or an earlier day on."""
    return tuple(
        Due(c.id, d.id, f"“{d.name}” of {c.name}") for c in project.characters for d in c.drawings if d.again and d.again <= today
    )


def due_words(rows: tuple[Due, ...]) -> str:
    """“You wanted to look again at “Rough” of Berta.”"""
    names = [r.name for r in rows[:3]]
    told = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
    more = f" and {len(rows) - 3} more" if len(rows) > 3 else ""
    return f"You wanted to look again at {told}{more}."
