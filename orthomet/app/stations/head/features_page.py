"""The page of the features: how each is drawn, what is left out by design, chosen unevenness, marks on the face."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QWidget

from ....core.features.choices import FaceMark, FeatureChoices
from ....core.features.table import Feature, Parameter, feature, features
from ...parts import button, choices, quiet, tick
from ..dials import Choice, Dial
from ..pages import Page, put_away

MARKS = "marks"
UNEVEN = {
    "eyes": (("level_exocanthion_hh", "Left eye lower by"),), "brows": (("level_brow_peak_hh", "Left brow lower by"),),
    "nose": (("offset_pronasale_hh", "Tip to the left by"),), "mouth": (("level_cheilion_hh", "Left corner lower by"), ("centre_cheilion_hh", "To the left by")),
    "ears": (("level_superaurale_hh", "Left ear lower by"),),
}  # fmt: skip
"""Chosen differences each feature offers; the balance reading it is recorded under."""
UNEVEN_MOST = 0.05


class FeaturesPage(Page):
    feature_chosen = Signal(str)
    began = Signal(str)
    moved = Signal(str, str, float)
    """Feature, parameter, value."""
    uneven_moved = Signal(str, float)
    dropped = Signal()
    absent_chosen = Signal(str, bool)
    marks_changed = Signal(str, object)
    """What was done, and all marks."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Feature")
        self.key = ""
        self.box = choices("Feature", slot=self.feature_chosen.emit)
        for f in features().values():
            self.box.addItem(f.words, f.key)
        self.box.addItem("Marks on the face", MARKS)
        self.rows.addWidget(self.box)
        self.drawn = tick(
            "Drawn", "Absent by design is allowed: nothing then asks for it", lambda on: self.absent_chosen.emit(self.key, not on)
        )
        self.row(self.drawn)
        self.widgets: dict[str, Dial | Choice] = {}
        self.uneven: dict[str, Dial] = {}
        self.groups: dict[str, QWidget] = {}
        self._extra: list[QWidget] = []
        self.end()
        self.choices = FeatureChoices()

    def set_content(self, key: str, choices: FeatureChoices, uneven: dict[str, float]) -> None:
        rebuilt = key != self.key or (key == MARKS and choices.marks != self.choices.marks)
        self.key, self.choices = key, choices
        self.box.setCurrentIndex(max(0, self.box.findData(key)))
        if rebuilt:
            self._rebuild()
        self.drawn.setVisible(key != MARKS)
        if key == MARKS:
            return
        with quiet(self.drawn):
            self.drawn.setChecked(choices.drawn(key))
        values = choices.of(key)
        f = features()[key]
        for k, w in self.widgets.items():
            w.setVisible(_parameter(key, k).asked(values))
            if isinstance(w, Dial):
                w.show_value(values[k])
            else:
                w.show_choice(round(values[k] - _parameter(key, k).low))
            w.setEnabled(choices.drawn(key))
        for group, label in self.groups.items():
            label.setVisible(any(p.asked(values) for p in _of_group(f, group)))
        for k, dial in self.uneven.items():
            dial.show_value(uneven.get(k, 0.0))

    def _rebuild(self) -> None:
        for w in (*self.widgets.values(), *self.uneven.values(), *self.groups.values(), *self._extra):
            self.rows.removeWidget(w)
            put_away(w, self.box)
        self.widgets, self.uneven, self.groups, self._extra = {}, {}, {}, []
        if self.key == MARKS:
            self._marks()
        else:
            self._parameters(features()[self.key])

    def _insert(self, w: QWidget) -> None:
        self.rows.insertWidget(self.rows.count() - 1, w)

    def _parameters(self, f: Feature) -> None:
        for p in f.parameters:
            if p.group:
                self.groups[p.group] = _heading(p.group)
                self._insert(self.groups[p.group])
            if p.options:
                choice = self.widgets[p.key] = Choice(p.words, p.options, p.tip)
                choice.chosen.connect(lambda i, key=p.key, low=p.low: self._step(key, low + i))
                self._insert(choice)
            else:
                dial = Dial(p.words, p.low, p.high, p.default, p.tip, whole=p.counts)
                self._dial(p.key, dial, p.words, partial(self._move, p.key))
                self.widgets[p.key] = dial
        for key, words in UNEVEN.get(f.key, ()):
            dial = Dial(
                words, -UNEVEN_MOST, UNEVEN_MOST, 0.0, "Chosen unevenness, in heads; it is part of the plan and kept with it"
            )
            self._dial(key, dial, words, partial(self.uneven_moved.emit, key))
            self.uneven[key] = dial

    def _dial(self, key: str, dial: Dial, words: str, moved: Callable[[float], object]) -> None:
        dial.began.connect(partial(self.began.emit, words))
        dial.moved.connect(moved)
        dial.settled.connect(self.dropped)
        self._insert(dial)

    def _move(self, key: str, value: float) -> None:
        self.moved.emit(self.key, key, value)

    def _step(self, key: str, value: float) -> None:
        self.began.emit(_parameter(self.key, key).words)
        self.moved.emit(self.key, key, value)
        self.dropped.emit()

    # ---- marks

    def _marks(self) -> None:
        for n, mark in enumerate(self.choices.marks):
            self._mark(n, mark)
        for words, made in (
            ("Add freckles", FaceMark(name="freckles", x=0.12, station=0.60, size=0.13, count=9, both=True)),
            ("Add a mole", FaceMark(name="mole", kind="mole", x=-0.12, station=0.74, size=0.018, count=1)),
            ("Add a scar", FaceMark(name="scar", kind="scar", x=-0.16, station=0.68, size=0.10, count=3, slant=35)),
            ("Add cheek lines", FaceMark(name="cheek lines", kind="lines", x=0.15, station=0.66, size=0.07, count=3, both=True)),
        ):
            b = button(words, partial(self._add, made), "Counted: a drawing can be held to the number")
            self._insert(b)
            self._extra.append(b)

    def _add(self, mark: FaceMark) -> None:
        names = {m.name for m in self.choices.marks}
        name = (
            mark.name
            if mark.name not in names
            else next(f"{mark.name} {n}" for n in range(2, 99) if f"{mark.name} {n}" not in names)
        )
        self.marks_changed.emit(f"Add {mark.name}", (*self.choices.marks, mark.model_copy(update={"name": name})))

    def _mark(self, n: int, mark: FaceMark) -> None:
        remove = button(f"Remove {mark.name}", lambda: self._without(n), "Take this mark away")
        self._insert(remove)
        self._extra.append(remove)
        for key, words, low, high, whole in (
            ("count", "How many", 1, 40, True), ("x", "Across", -0.35, 0.35, False), ("station", "Height", 0.05, 0.97, False),
            ("size", "Size", 0.005, 0.35, False), ("slant", "Slant", -90, 90, True),
        ):  # fmt: skip
            if (key == "count" and mark.kind == "mole") or (key == "slant" and mark.kind in ("mole", "freckles")):
                continue
            dial = Dial(
                words, low, high, getattr(FaceMark(name="x"), key), f"{words}, in heads" if not whole else words, whole=whole
            )
            dial.show_value(getattr(mark, key))
            dial.settled.connect(
                lambda d=dial, key=key, whole=whole: self._changed(n, key, round(d.value()) if whole else d.value())
            )
            self._insert(dial)
            self._extra.append(dial)

    def _changed(self, n: int, key: str, value: float) -> None:
        marks = list(self.choices.marks)
        if n < len(marks) and getattr(marks[n], key) != value:
            marks[n] = marks[n].model_copy(update={key: value})
            self.marks_changed.emit(f"Change {marks[n].name}", tuple(marks))

    def _without(self, n: int) -> None:
        self.marks_changed.emit(
            f"Remove {self.choices.marks[n].name}", tuple(m for k, m in enumerate(self.choices.marks) if k != n)
        )


def _parameter(key: str, parameter: str) -> Parameter:
    return next(p for p in feature(key).parameters if p.key == parameter)


def _of_group(f: Feature, group: str) -> list[Parameter]:
    """The dials under a heading."""
    first = next(k for k, p in enumerate(f.parameters) if p.group == group)
    last = next((k for k, p in enumerate(f.parameters) if k > first and p.group), len(f.parameters))
    return f.parameters[first:last]


def _heading(words: str) -> QLabel:
    label = QLabel(words)
    label.setProperty("lettering", "group")
    return label
