"""What the helpers of the Shapes station ask of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from ....core.landmarks.frame import Frame
from ....core.project.model import Reference
from ....core.shapes.scene import Scene
from ....core.shapes.seen import HEADS
from ...document import Document
from .edits import ShapesEdits
from .stage import ShapesStage


class Host(Protocol):
    """A station whose character's shapes are worked on."""

    document: Document
    edits: ShapesEdits
    part: str
    say: Any
    stage: ShapesStage

    def reference(self) -> Reference | None: ...

    def frames(self) -> dict[str, Frame]: ...

    def scene(self) -> Scene | None: ...

    def refresh(self) -> None: ...

    def new_role(self) -> str:
        """What the next part that is taken is."""
        ...

    def run(self, words: str, job: Callable[..., Any], then: Callable[..., object], **how: Callable[..., object]) -> None: ...


def still_there(host: Host) -> Callable[[], bool]:
    """Tells later whether the same character is open: what was made of its shapes is nobody else's."""

    def here() -> str:
        c = host.document.character
        return c.id if c is not None else ""

    then = here()
    return lambda: here() == then


def frame_of(host: Host, pid: str) -> Frame:
    """Where heads lie in the unit of one part."""
    p = host.edits.shapes.part(pid)
    return host.frames().get(p.reference, HEADS) if p is not None else HEADS
