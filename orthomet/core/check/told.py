"""What a drawing can be checked against, and how it was looked at, in words."""

from __future__ import annotations

from ..derived import Derived
from ..project.model import Drawing
from ..styles.schools import schools
from .compare import Compared
from .mirrored import mirrored_words

AGAINST = {"self": "itself: level, symmetry, gaze", "norm": "the average adult"}


def against_words(document: Derived, d: Drawing) -> str:
    """What a drawing is off from, as a sentence has it."""
    if not d.basis:
        return "your plan"
    return {"self": "itself", "norm": "the average"}.get(d.basis) or dict(bases(document)).get(
        d.basis, "what it is checked against"
    )


def bases(document: Derived) -> list[tuple[str, str]]:
    """All the drawing at hand can be checked against: key and words."""
    c, d = document.character, document.drawing
    out = [("", "its plan"), *AGAINST.items()]
    out += [(f"style:{s.name}", f"style: {s.title}") for s in document.styles()]
    out += [(f"school:{s.name}", f"school: {s.title}") for s in schools().values()]
    others = (
        o for o in (c.drawings if c else ()) if d is not None and o.id != d.id and o.marks.points and o.marks.view == "front"
    )
    return out + [(f"drawing:{o.id}", f"drawing: {o.name}") for o in others]


def how_words(c: Compared | None, d: Drawing | None) -> tuple[str, ...]:
    """How a drawing was looked at: the turn that was found, the face that was taken off, a half that was copied."""
    out = []
    if c is not None and c.turned:
        side = "the picture's right" if c.turn.yaw > 0 else "the picture's left"
        nod = f", looking {'down' if c.turn.pitch > 0 else 'up'} {abs(c.turn.pitch):.0f}°" if abs(c.turn.pitch) >= 1 else ""
        how = "as you set it" if d is not None and d.turn is not None else "found"
        out.append(f"Head turned {abs(c.turn.yaw):.0f}° to {side}{nod} ({how}).")
    if c is not None and c.expression != "neutral" and c.degree:
        little = " a little" if c.degree < 1 else ""
        out.append(f"It looks{little} {c.expression}: that is worn, not built, and was taken off first.")
    if c is not None and d is not None and not c.turned and not d.marks.estimated:
        out += mirrored_words(d.marks.landmarks())
    return tuple(out)
