"""What is decided at the Figure: canon, heads, form, limits that are meant, traits moved by hand, cures. Nothing here is drawn."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import reduce
from math import exp

from ....core.figure.choices import BY_AGE, FEWEST, MOST, FigureChoices
from ....core.landmarks.turn import Turn
from ....core.plan.cures import CURES, cured
from ....core.plan.figure import HEADS, figure_offset, figure_space
from ....core.plan.plan import offset_for
from ....core.project.edits import Edit, set_figure, set_offset
from ....core.project.model import Character
from ...document import Document


class FigureEdits:
    """Each becomes an edit of the open character; nothing while there is none."""

    def __init__(self, document: Document):
        self.document = document

    def _do(self, label: str, change: Callable[[FigureChoices], FigureChoices]) -> None:
        c = self.document.character
        if c is not None:
            self.document.do(label, set_figure(c.id, change))

    def _preview(self, change: Callable[[FigureChoices], FigureChoices]) -> None:
        c = self.document.character
        if c is not None:
            self.document.preview(set_figure(c.id, change))

    def canon(self, name: str) -> None:
        """Another canon, as it is: its own heads and form."""
        self._do("Canon", lambda f: f.model_copy(update={"canon": name, "heads": None, "form": {}, "limbs": ""}))

    def limbs(self, kind: str) -> None:
        self._do("Limbs", lambda f: f.model_copy(update={"limbs": kind}))

    def heads(self, value: float, natural: float) -> None:
        """While the dial is held: the figure at so many heads, a mark moved by hand counted in; at its natural height the choice is
        taken back.
        """
        by_hand = exp(self.document.decisions().offsets.get(HEADS, 0.0))
        chosen = None if abs(value - natural) < 0.021 else round(min(max(value / by_hand, FEWEST), MOST), 3)
        self._preview(lambda f: f.model_copy(update={"heads": chosen}))

    def age(self, years: float, own: float) -> None:
        name = BY_AGE if abs(years - own) < 0.05 else f"age:{years:.3g}"
        self._preview(lambda f: f.model_copy(update={"canon": name, "heads": None}))

    def form(self, key: str, value: float) -> None:
        self._preview(lambda f: f.model_copy(update={"form": {**f.form, key: round(value, 4)}}))

    def meant(self, name: str, on: bool) -> None:
        """A limit is meant to be broken, or is asked for again."""
        label = "A limit is meant to be broken" if on else "A limit is asked for again"
        self._do(label, lambda f: f.model_copy(update={"meant": (*(n for n in f.meant if n != name), *((name,) if on else ()))}))

    def head_turn(self, turn: Turn) -> None:
        self._preview(lambda f: f.model_copy(update={"head_turn": turn}))

    def trait(self, key: str, value: float) -> None:
        """A trait of the body, or of the head it takes its width and neck from, while its mark is dragged."""
        d, c, body = self.document.decisions(), self.document.character, self.document.figure_plan()
        if c is not None:
            ours = key in body.by_key
            offset = figure_offset(body, d, key, value) if ours else offset_for(self.document.plan(), d, key, value)
            self.document.preview(set_offset(c.id, key, offset, self.document.version_id))

    def forget(self) -> None:
        """Every mark of the body moved by hand goes back; the face's stay."""
        c, d = self.document.character, self.document.decisions()
        if c is not None:
            keys = [k for k in d.offsets if k in figure_space().index]
            edits = [set_offset(c.id, k, None, self.document.version_id) for k in keys]
            self.document.do("Forget body marks moved by hand", _one_after_the_other(edits))

    def cure(self, name: str, heads: float | None) -> bool:
        """One of the cures as one step."""
        c = self.document.character
        if c is None:
            return False
        self.document.do(CURES[name], self.cure_edit(c, name, heads))
        return True

    def cure_edit(self, c: Character, name: str, heads: float | None) -> Edit:
        """What taking a cure does to the project."""
        doc, vid = self.document, self.document.version_id
        found = cured(name, doc.match(heads), doc.plan(), doc.decisions(), doc.figure_plan(), c.figure, doc.figure_plan_under)
        edits: list[Edit] = [set_figure(c.id, lambda _: found.figure)]
        edits += [set_offset(c.id, key, offset, vid) for key, offset in found.offsets.items()]
        return _one_after_the_other(edits)


def _one_after_the_other(edits: Sequence[Edit]) -> Edit:
    """Several edits as one."""
    return lambda p: reduce(lambda q, edit: edit(q), edits, p)
