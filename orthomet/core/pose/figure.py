"""A whole figure in a pose, ready to be seen."""

from __future__ import annotations

from dataclasses import replace

from ..figure.heads import put_on
from ..figure.inked import inked
from ..figure.scene import Figure
from ..kept import remembered
from .bones import posed
from .model import Pose
from .moving import moving
from .skin import posed_mannequin


@remembered(12)
def posed_figure(f: Figure, pose: Pose) -> Figure:
    """A standing figure in a pose."""
    if pose.plain:
        return f
    p = posed(f.mannequin.skeleton, pose)
    m = posed_mannequin(f.mannequin, p)
    on = None
    if f.head is not None:
        on = put_on(f.head.body, m, f.head.turn, p.frames["head"], p.origins["head"])
    ink = inked(m, None, on.surfaces if on is not None else ())
    return replace(f, mannequin=m, ink=ink, head=on, posed=p)


def moving_figure(f: Figure, pose: Pose) -> Figure:
    """A standing figure in a pose, in a moment and for quick views, while a joint is dragged."""
    if pose.plain:
        return f
    return replace(f, posed=posed(f.mannequin.skeleton, pose), live=lambda turn: moving(f).at(pose, turn))
