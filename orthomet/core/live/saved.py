"""A newly saved state of a drawing taken into the project: its picture, its landmarks carried over, the state before kept."""

from __future__ import annotations

from datetime import datetime

import numpy as np

from ..kinds import Array
from ..landmarks.points import State
from ..landmarks.views import OWN, SCHEMAS
from ..project.checked import MOST_NOTED, Noted
from ..project.edits import Edit, change_character
from ..project.model import Character, Drawing, Earlier, Image, Marks
from .affine import SAME, after, put, scale_and_turn, still
from .carry import Carried
from .rim import SURE


def carried_marks(old: Marks, c: Carried) -> Marks:
    """Landmarks as they are saved: sure ones keep what they were, all others are estimated within their spread."""
    names = SCHEMAS[old.view].names
    points, states, spread = {}, dict(old.states), {}
    grown, _ = scale_and_turn(c.whole)
    for i, n in enumerate(names):
        if n not in old.points or not np.isfinite(c.points[i]).all():
            continue
        points[n] = (float(c.points[i, 0]), float(c.points[i, 1]))
        before = old.spread.get(n, 0.0) * grown
        was = old.states.get(n, State.PLACED)
        if c.status[i] == SURE:
            if before:
                spread[n] = before
            continue
        if was is State.ESTIMATED and not before:
            continue  # nobody knew how well it was laid, and nobody knows now
        spread[n] = max(before, float(c.spread[i]))
        if was is State.PLACED:
            states[n] = State.ESTIMATED
    for n, xy in old.points.items():
        if OWN.fullmatch(n):  # an own span's ends go where the whole drawing goes
            x, y = put(c.whole, np.array(xy))
            points[n] = (float(x), float(y))
            states.setdefault(n, State.ESTIMATED)
            spread[n] = max(old.spread.get(n, 0.0) * grown, 0.006 * float(np.ptp(c.points[np.isfinite(c.points[:, 1]), 1])))
    return Marks(
        view=old.view, points=points, states={n: s for n, s in states.items() if n in points or s is State.ABSENT}, spread=spread
    )


def take_save(cid: str, did: str, image: Image, carried: Carried | None, when: str) -> Edit:
    """A saved state becomes the drawing's picture. Without ``carried`` its points stay where they are; on a picture of another size they
    are only estimated."""

    def one(d: Drawing) -> Drawing:
        if d.id != did or d.image == image:
            return d
        same = d.image.size == image.size
        marks = carried_marks(d.marks, carried) if carried is not None else d.marks if same else _guessed(d.marks)
        way = carried.whole if carried is not None else SAME
        moved = tuple(_moved(e, way) for e in d.earlier)
        # a photographed page whose canvas changed is no page any more
        stood = same and still(way)
        earlier = _kept(moved, _moved(Earlier(image=d.image, when=when), way))
        return d.model_copy(update={"image": image, "marks": marks, "sheet": d.sheet if stood else None, "earlier": earlier})

    return change_character(cid, lambda c: c.model_copy(update={"drawings": tuple(one(d) for d in c.drawings)}))


def _guessed(m: Marks) -> Marks:
    """Landmarks of which nobody knows any more whether they are right."""
    states = {
        n: s if s is State.ABSENT else State.ESTIMATED for n, s in {**dict.fromkeys(m.points, State.PLACED), **m.states}.items()
    }
    return m.model_copy(update={"states": states, "spread": {}})


def _moved(e: Earlier, way: Array) -> Earlier:
    m = after(way, np.array(e.way, float).reshape(2, 3))
    rows = tuple(float(v) for v in m.ravel())
    return e.model_copy(update={"way": rows}) if np.isfinite(m).all() and abs(np.linalg.det(m[:, :2])) > 1e-6 else e


def _kept(earlier: tuple[Earlier, ...], last: Earlier) -> tuple[Earlier, ...]:
    """The state before this save, and the last one of an earlier day: oldest first."""
    today = last.when[:10]
    days = [e for e in earlier if e.when[:10] != today]
    return (*days[-1:], last)


def note(cid: str, did: str, entry: Noted) -> Edit:
    """One more check of a drawing is kept. The same finding at the same moment twice is one."""

    def one(c: Character) -> Character:
        return c.model_copy(update={"drawings": tuple(_noted(d, entry) if d.id == did else d for d in c.drawings)})

    return change_character(cid, one)


def _noted(d: Drawing, entry: Noted) -> Drawing:
    return d.model_copy(update={"log": (*d.log, entry)[-MOST_NOTED:]})


def now() -> str:
    """This moment as it is kept, to the second, with its offset from UTC."""
    return datetime.now().astimezone().isoformat(timespec="seconds")
