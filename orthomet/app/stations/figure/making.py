"""What the Figure station has made elsewhere: its stage's picture, the cures' figures, the canons' tiles."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from ....core.figure.canons import at_age, canon
from ....core.figure.choices import BY_AGE
from ....core.figure.density import density, told
from ....core.figure.scene import VIEWS, Figure, picture
from ....core.figure.sheets import row_of
from ....core.figure.skeleton import Skeleton
from ....core.landmarks.turn import Turn
from ....core.people import HeadOn, canon_wearing, person_of, roughly_person
from ....core.picture import Ink, Picture
from ....core.plan.figure import FigurePlan
from ....core.pose.actions import Outcome, done
from ....core.pose.figure import moving_figure, posed_figure
from ....core.pose.model import STANDING, Pose
from ....core.pose.moving import moving
from ....core.pose.needs import needs_of
from ....core.pose.sheets import stick_picture
from ...work import Say
from ..tile_strip import Tile
from .cures import Stand


@dataclass(frozen=True)
class Shown:
    """What a figure on the stage follows from; two that are the same are drawn alike."""

    plan: FigurePlan
    head: tuple[tuple[tuple[str, float], ...], bytes, str]
    turn: Turn
    head_turn: Turn
    how: tuple[bool, bool, bool, tuple[int, int], bool, tuple[tuple[Ink, str], ...]]
    held: bool
    """A dial or a mark is being dragged."""
    turning: bool
    pose: Pose = STANDING
    posing: bool = False
    """Its joints can be dragged."""


@dataclass(frozen=True, eq=False)
class Drawn:
    key: Shown
    picture: Picture
    words: str
    density: str
    figure: Figure
    """The last one made in full, standing."""
    of: tuple[object, ...]
    """What that one follows from."""


@dataclass(frozen=True, eq=False)
class Cures:
    key: object
    stands: list[Stand]


def view(f: Figure, s: Shown, quick: int = 0) -> Picture:
    """The stage's picture; the first ``quick`` views drawn as while they move."""
    guides, body, tones, (a, b), alone, colours = s.how
    if alone:
        return picture(f, s.turn, guides, range(a, b), tones, dict(colours), body, quick > 0)
    views = ((f"{s.turn.yaw:+.0f}°".replace("-", "−"), s.turn.yaw), ("front", 0.0), ("side", 90.0), ("back", 180.0))
    return row_of(f, views, guides, range(a, b), tones, dict(colours), body, quick)


def drawn(s: Shown, head: HeadOn, last: Drawn | None, say: Say) -> Drawn:
    """What the stage shows: in full at rest; while a dial or a joint is held quickly, after the last one drawn in full."""
    of = (s.plan, s.head, s.head_turn)
    if s.held and last is not None:
        f = last.figure if last.of == of else roughly_person(s.plan, head, s.head_turn, last.figure)
        return Drawn(s, view(moving_figure(f, s.pose), s, 4), "", "", last.figure, last.of)
    f = person_of(s.plan, head, s.head_turn)
    if s.posing:
        moving(f).ready()
    name = next((words for words, yaw in VIEWS if abs(s.turn.yaw) == yaw), "")
    words = (
        f"{s.plan.heads:.2f} heads, turned {s.turn.yaw:+.0f}°{f', {name}' if name else ''}".replace("-", "−") if s.how[4] else ""
    )
    return Drawn(s, view(posed_figure(f, s.pose), s, int(s.turning)), words, told(*density(f)), f, of)


def stood(key: object, rows: list[tuple[str, str, str, str, FigurePlan, HeadOn]], say: Say) -> Cures:
    stands = []
    for name, title, note, numbers, plan, head in rows:
        f = person_of(plan, head)
        stands.append(Stand(name, title, note, numbers, picture(f, Turn(yaw=20), guides=False).without("ladder"), plan.heads))
        if not say(""):
            break
    return Cures(key, stands)


def canon_tiles(names: list[str], age: float, head: HeadOn) -> list[Tile]:
    out = []
    for n in names:
        c = at_age(age) if n == BY_AGE else canon(n)
        words = "by age" if n == BY_AGE else c.title.replace("Measured, ", "")
        box = (-1.5, -0.55, 3.0, c.heads + 0.75)
        out.append(Tile(words, n, partial(_canon_picture, c.name, head), box))
    return out


def _canon_picture(name: str, head: HeadOn) -> Picture:
    return picture(canon_wearing(canon(name), head), Turn(), guides=False).without("ladder")


@dataclass(frozen=True, eq=False)
class Needs:
    key: object
    found: list[tuple[str, Outcome]]


def tried(key: object, s: Skeleton, text: str, say: Say) -> Needs:
    """What of the story's needs can be tried, tried on a body."""
    out = []
    for line, action, amount in needs_of(text):
        out.append((line, done(s, action, amount)))
        if not say(""):
            break
    return Needs(key, out)


def pose_tiles(s: Skeleton, kept: tuple[Pose, ...], own: tuple[Pose, ...]) -> list[Tile]:
    """Alternatives first, then the library's poses, as stick figures of this body."""
    rows = [(p.name, ("kept", p)) for p in kept] + [(p.name, ("library", p)) for p in own]
    return [
        Tile(
            words,
            value,
            partial(stick_picture, s, value[1]),
            (-0.4 * s.build.heads, -0.12 * s.build.heads, 0.8 * s.build.heads, 1.16 * s.build.heads),
        )
        for words, value in rows
    ]
