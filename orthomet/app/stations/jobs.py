"""What runs off the interface thread: faces, points, corner marks, colours."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QImage

from ...core.project.model import Reference
from ..stage.pixels import to_rgb

if TYPE_CHECKING:
    from ...core.hair.fit import Fitted
    from ...core.imaging.figure import Edges

XY = tuple[float, float]


def available() -> bool:
    """Whether faces can be found here; the library behind it is loaded when first asked for."""
    from ...core.imaging.faces import available

    return available()


def faces_or_points(image: QImage, say: Any) -> Any:
    """The faces when there are several to choose from or none; the points when there is one."""
    from ...core.auto import auto_landmarks, faces_on

    rgb = to_rgb(image)
    faces = faces_on(rgb)
    return auto_landmarks(rgb, say=say, faces=faces) if len(faces) == 1 else faces


def auto_of(image: QImage, k: int, say: Any, faces: Any = None) -> Any:
    from ...core.auto import auto_landmarks

    return auto_landmarks(to_rgb(image), k, say=say, faces=faces)


def marks_of(image: QImage, say: Any) -> tuple[XY, XY, XY, XY]:
    """The printed corner marks: top left, top right, bottom right, bottom left."""
    from ...core.imaging.rectify import find_marks

    say("Looking for corner marks…")
    a, b, c, d = find_marks(to_rgb(image))
    return a, b, c, d


def swatches_of(image: QImage, say: Any) -> Any:
    from ...core.imaging.palette import palette
    from ...core.project.model import Swatch

    tones = palette(to_rgb(image), say=say)
    return [
        Swatch(name=f"Colour {k + 1}", colour=t.colour, edge=t.edge, centre=t.centre, share=t.share) for k, t in enumerate(tones)
    ]


def edges_of(image: QImage, ref: Reference, say: Any) -> Edges:
    """Floor and sides of a reference's figure on its outline."""
    from ...core.imaging.figure import figure_edges

    return figure_edges(to_rgb(image), ref.marks.points, say)


def hair_of(image: QImage, ref: Reference, measured: dict[str, float], say: Any) -> Fitted | None:
    """The hairstyle a reference's portrait wears; ``measured`` are its readings."""
    from ...core.hair.fit import hair_of_picture
    from ...core.landmarks.frame import frame_of
    from ...core.landmarks.turn import Turn

    frame = frame_of(ref.marks.landmarks(ref.image.size), ref.level_by)
    seen = Turn(yaw=ref.turn.yaw, pitch=ref.turn.pitch) if ref.turn is not None else Turn()
    return hair_of_picture(to_rgb(image), frame, measured, seen, say)
