"""What differs between two states of a project, in a few words an artist understands."""

from __future__ import annotations

import time
from pathlib import Path

from .journal import Recoverable
from .model import Character, Project

PARTS = {
    "references": "references", "decisions": "plan", "features": "features", "expression": "expression", "drawings": "drawings",
    "versions": "versions", "spans": "own parts", "noticed": "what is noticed", "swatches": "colours", "idea": "idea",
    "directions": "idea", "needs": "what the story asks", "name": "name", "role": "name", "height_m": "height", "age": "age",
}  # fmt: skip
MOST = 3


def differences(old: Project, new: Project) -> tuple[str, ...]:
    """What ``new`` has that ``old`` has not, one phrase a matter; empty when they are equal."""
    out = []
    if old.title != new.title:
        out.append(f"the title is “{new.title[:40]}”")
    before, after = ({c.id: c for c in p.characters} for p in (old, new))
    out += [f"{c.name[:40]} is new" for cid, c in after.items() if cid not in before]
    out += [f"{c.name[:40]} is gone" for cid, c in before.items() if cid not in after]
    for cid, c in after.items():
        if cid in before and before[cid] != c:
            out.append(f"{c.name[:40]}: {_parts(before[cid], c)}")
    if old.studies != new.studies or old.hand_left_out != new.hand_left_out:
        out.append("the styles")
    if not out and old != new:
        out.append("the order of the cast")
    return tuple(out)


def _parts(old: Character, new: Character) -> str:
    words = dict.fromkeys(PARTS.get(n, "choices") for n in Character.model_fields if getattr(old, n) != getattr(new, n))
    return _some(tuple(words))


def in_one_line(found: tuple[str, ...]) -> str:
    """The first few of :func:`differences`, and how many more there are."""
    return _some(found, "; ")


def _some(words: tuple[str, ...], between: str = ", ") -> str:
    text = between.join(words[:MOST])
    return f"{text} and {len(words) - MOST} more" if len(words) > MOST else text


def kept_words(kept: Recoverable) -> str:
    """What a window that ended badly left behind, and what differs where its file was saved again since."""
    words = f"“{kept.stored.project.title[:60]}” was not saved when the window ended on {_when(kept.when)}."
    if not kept.file_changed:
        return words
    words += f" {Path(kept.belongs_to).name} was saved again since, on {_when(kept.newer_when)}"
    if kept.newer is None:
        return f"{words}."
    return f"{words}; in the kept work differ: {in_one_line(differences(kept.newer.project, kept.stored.project))}."


def _when(seconds: float) -> str:
    return time.strftime("%d %b, %H:%M", time.localtime(seconds))
