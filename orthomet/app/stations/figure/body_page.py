"""The page of the body: its canon, heads tall, age, form; and the limits it has reached."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QWidget

from ....core.figure.canons import age_of, named
from ....core.figure.choices import BY_AGE, FEWEST, FORM_BOUNDS, MOST, FigureChoices
from ....core.plan.figure import FigurePlan, figure_space
from ...parts import across, button, choices, down
from ..dials import Choice, Dial
from ..pages import Page, fill, put_away

FORM = {
    "feminine": ("Masculine, feminine", "Shoulders, waist, hips, girths, and how many lines: a slider, not two models"),
    "muscle": ("Muscle", "Contrast of the limbs’ profiles"),
    "softness": ("Softness", "Fat over it: wider blends, fewer lines"),
    "bust": ("Bust", "How far it stands out"),
    "belly": ("Belly", "How far it stands out"),
    "seat": ("Seat", "How far it stands out"),
    "slope": ("Shoulder slope", "How far the shoulders fall"),
    "chest_depth": ("Chest depth", "Depth of the rib cage by its width"),
    "stance": ("Stance", "How far the feet stand apart"),
    "arms_out": ("Arms out", "Degrees from the body"),
    "detail": ("Detail", "Inner lines: few to many"),
}  # fmt: skip
LIMBS = (("as the canon has them", ""), ("jointed", "jointed"), ("rubber: one arc", "rubber"))
OLDEST = 18.0


def canon_words(name: str, age: float) -> str:
    """A canon's title in a list."""
    if name == BY_AGE:
        return f"Measured, at this character’s age ({age:g})"
    years = age_of(name)
    return f"Measured, at {years:g} years" if years is not None else named()[name].title if name in named() else name


class BodyPage(Page):
    canon_chosen = Signal(str)
    limbs_chosen = Signal(str)
    began = Signal(str)
    heads_moved = Signal(float)
    age_moved = Signal(float)
    form_moved = Signal(str, float)
    dropped = Signal()
    meant_toggled = Signal(str, bool)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Canon")
        self.canon = choices("Canon", "The body everything else is read against", self.canon_chosen.emit)
        self.rows.addWidget(self.canon)
        self.about = self.note()
        self.heads = self._dial(
            "Heads tall", FEWEST, MOST, 7.5, "Crown to floor in heads; widths and girths go along", self.heads_moved.emit
        )
        self.hair = self.note()
        self.age = self._dial(
            "Age",
            0,
            OLDEST,
            18,
            "The measured body of an age, smooth from one to eighteen; later nothing grows",
            self.age_moved.emit,
        )
        self.limits_title = self.section("Limits reached")
        self.limits = QWidget()
        self._limits = down(owner=self.limits, spacing=5)
        self.rows.addWidget(self.limits)
        self.section("Form")
        self.dials: dict[str, Dial] = {}
        for key, (words, tip) in FORM.items():
            low, high = FORM_BOUNDS[key]
            self.dials[key] = self._dial(words, low, high, (low + high) / 2, tip, partial(self.form_moved.emit, key))
        self.limbs = Choice("Limbs", [words for words, _ in LIMBS], "Real elbows and knees, or limbs that bend in one arc",
                            lambda k: self.limbs_chosen.emit(LIMBS[k][1]))  # fmt: skip
        self.rows.addWidget(self.limbs)
        self.density = self.note()
        self.end()
        self._told: object = None

    def _dial(self, words: str, low: float, high: float, default: float, tip: str, moved: object) -> Dial:
        dial = Dial(words, low, high, default, tip)
        dial.began.connect(partial(self.began.emit, words))
        dial.moved.connect(moved)
        dial.settled.connect(self.dropped)
        self.rows.addWidget(dial)
        return dial

    def set_content(
        self, choices_: FigureChoices, plan: FigurePlan, natural: float, age: float, with_hair: float | None, density: str
    ) -> None:
        """`natural` heads tall are where nothing is chosen."""
        names = [BY_AGE, *named()]
        if choices_.canon not in names:
            names.insert(1, choices_.canon)
        fill(self.canon, [(canon_words(n, age), n) for n in names], choices_.canon)
        c = plan.canon
        self.about.setText(c.note)
        self.heads.default = natural
        self.heads.show_value(plan.heads)
        hair = (
            ""
            if with_hair is None or abs(with_hair - plan.heads) < 0.02
            else f"With its hair the head counts {with_hair:.2f} heads."
        )
        self.hair.setText(hair)
        self.hair.setVisible(bool(hair))
        years = age_of(c.name)
        self.age.setVisible(years is not None)
        if years is not None:
            self.age.default = min(age, OLDEST)
            self.age.show_value(min(years, OLDEST))
        form = plan.build.form
        for key, dial in self.dials.items():
            dial.default = getattr(c.form, key)
            dial.show_value(getattr(form, key))
        self.limbs.show_choice([k for _, k in LIMBS].index(choices_.limbs))
        self.density.setText(density)
        self._show_limits(plan, choices_)

    def _show_limits(self, plan: FigurePlan, choices_: FigureChoices) -> None:
        rows = {r.name: r.say for r in figure_space().table.rows}
        by_words = {say: name for name, say in rows.items()}
        told = tuple((li.words, by_words.get(li.words, ""), False) for li in plan.limits)
        told += tuple((rows[n], n, True) for n in choices_.meant if n in rows)
        if told == self._told:
            return
        self._told = told
        while (item := self._limits.takeAt(0)) is not None:
            w = item.widget()
            if w is not None:
                put_away(w, self.canon)
        for words, name, meant in told:
            self._limits.addWidget(_LimitRow(words, name, meant, self.meant_toggled.emit))
        self.limits.setVisible(bool(told))
        self.limits_title.setVisible(bool(told))


class _LimitRow(QWidget):
    """A limit in words, and the way to say that it is meant to be broken."""

    def __init__(self, words: str, name: str, meant: bool, told: object):
        super().__init__()
        label = QLabel(words if not meant else f"{words}: meant otherwise")
        label.setWordWrap(True)
        assert callable(told)
        say = button(
            "Ask again" if meant else "Meant", partial(told, name, not meant), "This character is meant to break it", bare=True
        )
        say.setVisible(bool(name))
        across((label, 1), say, owner=self, spacing=8)
