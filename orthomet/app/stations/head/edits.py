"""What is decided at the Head: features, unevenness, marks, expression, the lines of a school. Nothing here is drawn."""

from __future__ import annotations

from collections.abc import Callable

from ....core.features.choices import FaceMark, FeatureChoices
from ....core.features.expression import NEUTRAL, Expression
from ....core.features.table import feature, features
from ....core.hair.fit import Fitted
from ....core.landmarks.turn import Turn
from ....core.project.edits import Edit, choose_school, decide, set_character, set_features, set_school_line
from ....core.project.model import Character, Reference
from ...document import Document

GAZE_REACH = 32.0
"""Degrees the eyes turn at the end of the gaze dial (from memory of common values: 30–35° in comfort)."""


class HeadEdits:
    """Each becomes an edit of the open character; nothing while there is none."""

    def __init__(self, document: Document):
        self.document = document

    def _do(self, label: str, edit: Callable[[Character], Edit]) -> None:
        c = self.document.character
        if c is not None:
            self.document.do(label, edit(c))

    def _preview(self, edit: Callable[[Character], Edit]) -> None:
        c = self.document.character
        if c is not None:
            self.document.preview(edit(c))

    def _features(self, label: str, change: Callable[[FeatureChoices], FeatureChoices]) -> None:
        self._do(label, lambda c: set_features(c.id, change))

    # ---- while a dial is held

    def chin(self, forward: float) -> None:
        self._preview(lambda c: decide(c.id, chin_forward=round(forward, 3)))

    def line(self, key: str, value: float) -> None:
        """A line a guide school lets one choose."""
        self._preview(lambda c: set_school_line(c.id, key, value))

    def parameter(self, key: str, parameter: str, value: float) -> None:
        self._preview(lambda c: set_features(c.id, lambda f: f.with_value(key, parameter, round(value, 4))))

    def uneven(self, key: str, value: float) -> None:
        now = {k: v for k, v in self.document.decisions().uneven.items() if k != key}
        chosen = {**now, key: round(value, 4)} if abs(value) > 1e-4 else now
        self._preview(lambda c: decide(c.id, uneven=chosen))

    def expression_dial(self, key: str, value: float) -> None:
        self._preview(lambda c: set_character(c.id, expression=c.expression.model_copy(update={key: round(value, 3)})))

    def pen(self, key: str, value: float) -> None:
        """One of the line plan's dials."""
        self._preview(lambda c: set_character(c.id, pens=c.pens.model_copy(update={key: round(value, 3)})))

    # ---- at once

    def true_pens(self, on: bool) -> None:
        self._do(
            "The same pens at any size" if on else "Pens grow with the head",
            lambda c: set_character(c.id, pens=c.pens.model_copy(update={"true_mm": on})),
        )

    def school(self, name: str) -> bool:
        """Another guide school; False where it is the one already."""
        if self.document.character is None or not name or name == self.document.decisions().school:
            return False
        self._do("Guide school", lambda c: choose_school(c.id, name))
        return True

    def variant(self, key: str, name: str) -> None:
        v = next(v for v in feature(key).variants if v.name == name)
        self._features(f"{feature(key).words}, {v.name}", lambda f: f.with_values(key, v.set).with_absent(key, False))

    def absent(self, key: str, gone: bool) -> None:
        if key in features():
            self._features(f"{feature(key).words} {'left out' if gone else 'drawn'}", lambda f: f.with_absent(key, gone))

    def marks(self, label: str, marks: tuple[FaceMark, ...]) -> None:
        self._features(label, lambda f: f.with_marks(marks))

    def wear(self, label: str, e: Expression) -> None:
        self._do(label, lambda c: set_character(c.id, expression=e))

    def rest(self) -> None:
        self.wear("At rest", NEUTRAL)

    def look_at_viewer(self, turn: Turn) -> None:
        """The eyes turn back by as much as the head is turned, as far as eyes go."""
        x, y = (round(max(-1.0, min(1.0, a / GAZE_REACH)), 3) for a in (-turn.yaw, turn.pitch))
        gaze = {"gaze_x": x, "gaze_y": y}
        self._do("Look at the viewer", lambda c: set_character(c.id, expression=c.expression.model_copy(update=gaze)))

    def hair_offered(self) -> Reference | None:
        """The reference whose hair the head could wear: it has a face, and the head has no hair yet."""
        c = self.document.character
        bare = c is not None and c.features.drawn("hair") and c.features.of("hair")["kind"] < 0.5
        face = c.face if c is not None and bare else None
        return face if face is not None and {"vertex", "gnathion", "trichion"} <= set(face.marks.points) else None

    def take_hair(self, cid: str, found: Fitted) -> None:
        """Dress a character as its picture is dressed."""
        words = f"Hair from the reference, {found.style}"
        self.document.do(words, set_features(cid, lambda f: f.with_values("hair", found.values)))
