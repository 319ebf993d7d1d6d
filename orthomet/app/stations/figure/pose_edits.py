"""What is decided about a character's pose: taken, dragged, dialled, mirrored, kept, pinned, given away. Nothing here is drawn."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce

from ....core.errors import OrthometError
from ....core.pose.model import ANGLES, STANDING, Pose, Posing, mirrored
from ....core.project.edits import change_character, set_posing
from ...document import Document

MOST_KEPT, MOST_WORDS = 24, 2000
EVERYBODY = "*"


class PoseEdits:
    """Each becomes an edit of the open character; nothing while there is none."""

    def __init__(self, document: Document):
        self.document = document

    @property
    def posing(self) -> Posing:
        c = self.document.character
        return c.posing if c is not None else Posing()

    def _do(self, label: str, change: Callable[[Posing], Posing]) -> None:
        c = self.document.character
        if c is not None:
            self.document.do(label, set_posing(c.id, change))

    def take(self, pose: Pose, label: str = "Pose") -> None:
        """A pose as it is."""
        self._do(label, lambda p: p.model_copy(update={"pose": pose}))

    def preview(self, pose: Pose) -> None:
        """While a joint or a dial is held."""
        c = self.document.character
        if c is not None:
            self.document.preview(set_posing(c.id, lambda p: p.model_copy(update={"pose": pose})))

    def stand(self) -> None:
        self.take(STANDING, "Stand upright")

    def mirror(self) -> None:
        self.take(mirrored(self.posing.pose), "Mirror the pose")

    def keep(self) -> bool:
        """The pose joins the alternatives; not twice, and not a twenty-fifth."""
        now = self.posing
        if now.pose in now.kept or len(now.kept) >= MOST_KEPT:
            return False
        plain, taken = now.pose.name or "pose", {p.name for p in now.kept}
        name = next(n for n in (plain, *(f"{plain[:70]} {k}" for k in range(2, MOST_KEPT + 3))) if n not in taken)
        pose = now.pose.model_copy(update={"name": name})
        self._do("Keep the pose", lambda p: p.model_copy(update={"pose": pose, "kept": (*p.kept, pose)}))
        return True

    def forget(self) -> None:
        """The pose leaves the alternatives; the figure stays in it."""
        self._do("Forget an alternative", lambda p: p.model_copy(update={"kept": tuple(k for k in p.kept if k != p.pose)}))

    def pin(self, end: str, on: bool) -> None:
        words = "A hand or foot pinned" if on else "A hand or foot freed"
        self._do(words, lambda p: p.model_copy(update={"pins": (*(e for e in p.pins if e != end), *((end,) if on else ()))}))

    def waive(self, on: bool) -> None:
        """Joints may go past their limits, or may not."""
        joints = tuple(ANGLES) if on else ()
        self._do("Limits of the joints", lambda p: p.model_copy(update={"pose": p.pose.model_copy(update={"waived": joints})}))

    def give(self, cid: str) -> str:
        """The pose to another character (or to :data:`EVERYBODY`), at its own proportions; its name, or nothing."""
        pose = self.posing.pose
        if cid == EVERYBODY:
            ids = [c.id for c in self.document.project.characters]
            edits = [set_posing(i, lambda p: p.model_copy(update={"pose": pose})) for i in ids]
            self.document.do("Pose for everybody", lambda p: reduce(lambda q, edit: edit(q), edits, p))
            return "Everybody"
        other = self.document.project.character(cid)
        if other is None:
            return ""
        self.document.do(f"Pose for {other.name}", set_posing(cid, lambda p: p.model_copy(update={"pose": pose})))
        return other.name

    def need(self, words: str) -> None:
        """One more line of what the story needs."""
        c = self.document.character
        if c is None:
            return
        needs = f"{c.needs.rstrip()}\n{words}".strip()
        if len(needs) > MOST_WORDS:
            raise OrthometError("What the story needs has room for 2000 letters; shorten it in Reference.")
        self.document.do("What the story needs", change_character(c.id, lambda k: k.model_copy(update={"needs": needs})))
