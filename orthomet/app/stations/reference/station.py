"""The Reference station: place landmarks on the picture, read what it shows against a norm."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtWidgets import QWidget

from ....core.export.table import readings_csv
from ....core.gauges.reference import value_words
from ....core.imaging.palette import as_json, css
from ....core.landmarks.level import LevelBy
from ....core.landmarks.own import OWN_GROUP
from ....core.landmarks.points import State
from ....core.landmarks.views import VIEW_WORDS
from ....core.project.edits import decide, place, remove_reference, set_character
from ....core.project.model import Reference
from ....core.project.places import ReferencePlace, edit_marks
from ....core.proportions.measure import missing_for
from ....core.proportions.registry import Role, Rule
from ....core.resolve import plan_of_style
from ....core.swatches import merged
from ...ask import ask_where
from ...document import Document
from ...ledge import Hint
from ...parts import across, button, choices, down, entry, put_in, soft
from ...stage.asking import AskingStage
from ...stage.images import ImageStore
from ..base import Station
from ..fields import put_words
from ..jobs import available, edges_of, swatches_of
from ..marking import MarkedSource, Marking, counts_words
from ..pages import fill
from .panel import ReferencePanel
from .spanbar import SpanBar
from .spans import OwnSpans

if TYPE_CHECKING:
    from ....core.imaging.figure import Edges

READINGS = 0


class ReferenceStation(Station):
    name = "Reference"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self._front = plan_of_style("measured-adult").points
        self.choose = button(
            "Choose a picture…", lambda: self.wanted.emit("picture"), "Open a picture file (Ctrl+I)", strong=True
        )
        self.demo = button("Open the demo", lambda: self.wanted.emit("demo"), "People of the Night Ferry, measured and planned")
        lines = ("Drop a picture of a face here, or paste one.",)
        self.stage = AskingStage("picture", "No reference yet", lines, (self.choose, self.demo))
        self.panel = ReferencePanel(document)
        self.list = self.panel.list
        self.span_bar = SpanBar()
        self.marked = self.marking = marking = Marking(self, self.stage, self._source)
        self.spans = OwnSpans(document, self.stage, self.span_bar, self._place)
        self._build_head(marking)
        below = QWidget()
        down(self.span_bar, self._credit_bar(), owner=below)
        self.build(self.stage, self.panel, below)
        self._connect(marking)
        tool = self.spans.tool
        self._actions = [
            *marking.actions("find", "seed", "confirm", "group", "other side", "crown", "absent"),
            self.action("Level by the eyes", "Ctrl+E", self._toggle_level),
            *marking.actions("view"),
            self.action(
                "Lay sides on the figure’s outline",
                "",
                self._lay_sides,
                "Floor and sides, told by GrabCut or from a plain ground",
            ),
            self.action("Mark a span of your own", "Ctrl+T", self.stage.mark_span),
            self.action("Forget the last own span", "", self.spans.forget_last),
            self.action("Measuring stick", "Ctrl+D", lambda: tool("stick")),
            self.action("What the stick fits into", "Ctrl+R", lambda: tool("other")),
            self.action("Keep the stick as a span", "Ctrl+K", self.spans.keep_stick),
            self.action("Level line", "Ctrl+Shift+L", lambda: tool("level")),
            self.action("Plumb line", "Ctrl+Shift+P", lambda: tool("plumb")),
            self.action("Save readings as CSV…", "", self._save_csv),
            self.action("Remove this reference", "", self._remove),
        ]

    def _build_head(self, marking: Marking) -> None:
        self.which = choices("Which reference", "The reference that is measured")
        self.which.activated.connect(self._choose)
        self.view = choices(
            "What it shows", "What the picture shows: a face from the front, a profile, or a figure", marking.show_view
        )
        fill(self.view, [(words, key) for key, words in VIEW_WORDS.items()], "front")
        self.counts = soft()
        self.which.setMaximumWidth(104)
        self.view.setMaximumWidth(124)
        self.find_face = button("Find face", marking.find, "Find the face and its turn, lay points for you to correct (Ctrl+J)")
        self.start_over = button(
            "Three clicks…", marking.seed, "Click three points; the rest is laid out for you to correct (Ctrl+L)"
        )
        self.confirm_all = button(
            "Confirm", marking.confirm_all, "Say that all estimated points are right (Ctrl+Return)", strong=True
        )
        self.lay_sides = button(
            "Lay sides",
            self._lay_sides,
            "Tell the figure from its ground and lay floor and sides on its outline, for you to correct",
        )
        items = (self.counts, self.find_face, self.lay_sides, self.start_over, self.confirm_all)
        put_in(self.top_row, self.which, self.view, ..., *items)
        self.top_line.spare = [self.counts, self.start_over]

    def _credit_bar(self) -> QWidget:
        bar = QWidget()
        self.credit = entry("Credit of this reference", "Who made this picture, and where it is from", 300, self._take_credit)
        across(soft("Credit"), (self.credit, 1), owner=bar, margins=(52, 0, 12, 10), spacing=None)
        return bar

    def _connect(self, marking: Marking) -> None:
        s, panel = self.stage, self.panel
        s.hovered_points.connect(self._point_hover)
        self.spans.kept.connect(self._span_kept)
        self.spans.trouble.connect(lambda words: self.say.emit(words, True))
        panel.norm_chosen.connect(self._set_norm)
        self.list.hovered.connect(self._row_hover)
        panel.noticed.hovered.connect(self._row_hover)
        self.list.missing_clicked.connect(self._place_missing)
        panel.noticed.changed.connect(lambda rows: self._edit_character("Noticed first", {"noticed": rows}))
        panel.picture.changed.connect(marking.set)
        panel.picture.corners_wanted.connect(marking.click_corners)
        panel.picture.mend_corners.connect(marking.find_corner_marks)
        for page in (panel.picture.character_changed, panel.idea.changed, panel.colours.changed):
            page.connect(self._edit_character)
        panel.colours.take_wanted.connect(self._take_colours)
        panel.colours.export_wanted.connect(self._save_colours)

    def _lay_sides(self) -> None:
        """Floor and sides of a figure laid on its outline; what a person has placed stays. Worked out elsewhere."""
        ref, at = self.reference, self._place()
        image = self.images.get(ref.image.hash) if ref is not None else None
        if ref is None or at is None or ref.marks.view != "figure":
            self.say.emit("Choose a reference that shows a figure first.", True)
            return
        if image is None:
            self.say.emit("The picture is still being read; ask again in a moment.", False)
            return

        def take(found: Edges) -> None:
            now = at.held(self.document.project)
            loose = {n: p for n, p in found.points.items() if now is not None and now.marks.states.get(n) is State.ESTIMATED}
            if not loose:
                self.say.emit(
                    "No outline could be told from the ground here: start with three clicks, or move a few points first.", True
                )
                return
            self.document.do(f"Lay {len(loose)} sides on the outline", edit_marks(at, lambda m: place(m, loose, State.ESTIMATED)))
            self.say.emit(f"{len(loose)} points laid on the outline, to be confirmed; the rest stayed.", False)

        self.run("Telling the figure from its ground…", partial(edges_of, image, ref), take)

    # ---- what is marked

    @property
    def reference(self) -> Reference | None:
        c = self.document.character
        return c.reference if c else None

    def _place(self) -> ReferencePlace | None:
        c, ref = self.document.character, self.reference
        return ReferencePlace(c.id, ref.id) if c and ref else None

    def _source(self) -> MarkedSource | None:
        c, ref, at = self.document.character, self.reference, self._place()
        if c is None or ref is None or at is None:
            return None
        return MarkedSource(at, ref, lambda: self._front, c.spans, ref.level_by)

    # ---- edits

    def _edit_character(self, label: str, fields: dict[str, Any]) -> None:
        c = self.document.character
        if c:
            self.document.do(label, set_character(c.id, **fields))

    def _edit_reference(self, label: str, **fields: Any) -> None:
        at = self._place()
        if at:
            self.document.do(label, at.change(**fields))

    def _choose(self, index: int) -> None:
        c = self.document.character
        if c and 0 <= index < len(c.references):
            self._edit_character("Choose reference", {"chosen_reference": c.references[index].id})

    def _set_norm(self, name: str) -> None:
        c = self.document.character
        if c:
            self.document.do("Read against", decide(c.id, norm=name))

    def _remove(self) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            self.document.do("Remove reference", remove_reference(c.id, ref.id))

    def _take_credit(self) -> None:
        ref = self.reference
        if ref and self.credit.text() != ref.credit:
            self._edit_reference("Credit", credit=self.credit.text().strip())

    def _toggle_level(self) -> None:
        ref = self.reference
        if ref:
            other = LevelBy.EYES if ref.level_by is LevelBy.CENTRE else LevelBy.CENTRE
            self._edit_reference(f"Level by {other}", level_by=other)

    def _place_missing(self, key: str) -> None:
        c, ref = self.document.character, self.reference
        gone = missing_for(ref.marks.landmarks(None, c.spans), key) if c and ref else ()
        if gone:
            self.stage.ask_for(gone[0])

    def _span_kept(self) -> None:
        self.list.open_group(OWN_GROUP)
        self.panel.pages.show_page(READINGS)

    # ---- colours and files

    def _take_colours(self) -> None:
        c, ref = self.document.character, self.reference
        image = self.images.get(ref.image.hash) if ref else None
        if c is not None and image is not None:
            old, cid = c.swatches, c.id
            self.run(
                "Sorting the colours…", lambda say: swatches_of(image, say),
                lambda new: self.document.do("Take colours", set_character(cid, swatches=merged(old, new))),
            )  # fmt: skip

    def _save_colours(self) -> None:
        c = self.document.character
        path = ask_where(self, "Save colours", f"{c.name}.css", {".css": "Style sheet", ".json": "JSON"}) if c else ""
        if c and path:
            rows = [(s.name, s.colour, s.edge, s.centre) for s in c.swatches]
            as_css = not path.lower().endswith(".json")
            self.write_text(path, css(rows, c.name) if as_css else as_json([s.model_dump() for s in c.swatches], c.name))

    def _save_csv(self) -> None:
        c = self.document.character
        path = ask_where(self, "Save readings", f"{c.name}.csv", {".csv": "Table"}) if c and self.reference else ""
        if path:
            m = self.document.seen()
            self.write_text(path, readings_csv(m, self.document.norm(m.registry)))

    # ---- hover, both ways

    def _row_hover(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else self.hot - {key}
        self._light()

    def _point_hover(self, names: set[str]) -> None:
        self.hot = set()
        reg = self.document.seen().registry
        lit = {r.key for r in reg.readings if r.role is not Role.BALANCE and names & r.over.needs} if names else set()
        self.panel.light(lit)

    def _light(self) -> None:
        m = self.document.seen()
        self.stage.lit_keys = set(self.hot)
        lit = [m.registry[k] for k in self.hot if k in m.table]
        self.stage.lit_words = {r.key: value_words(r, m.table[r.key]) for r in lit}
        self.stage.lit_station = next((m.table[r.key] for r in lit if r.rule is Rule.STATION), None)
        self.panel.light(self.hot)
        self.stage.update()
        self.status_changed.emit()

    # ---- what the frame asks

    def refresh(self) -> None:
        c, ref = self.document.character, self.reference
        fill(self.which, [(r.name, r.id) for r in c.references] if c else [], ref.id if ref else "")
        self.which.setVisible(bool(c and len(c.references) > 1))
        self.view.setVisible(ref is not None)
        view = ref.marks.view if ref else "front"
        self.view.setCurrentIndex(self.view.findData(view))
        self.credit.setEnabled(ref is not None)
        put_words(self.credit, ref.id if ref else "", ref.credit if ref else "")
        if self.marking.show():
            self.spans.drop()
        loose = len(ref.marks.estimated) if ref else 0
        self.counts.setText(counts_words(ref.marks) if ref else "")
        self.confirm_all.setVisible(loose > 0)
        self.confirm_all.setText(f"Confirm {loose}")
        self.start_over.setVisible(ref is not None)
        self.find_face.setVisible(ref is not None and view == "front")
        self.lay_sides.setVisible(ref is not None and view == "figure" and loose > 0)
        self.panel.refresh()
        sentence = self.document.landmark_problem()
        if sentence:
            self.document.trouble.emit(sentence)
        if self.hot:
            self._light()

    def hint(self) -> Hint:
        s = self.stage
        if s.size_px is None:
            return [("Drop", "a picture here"), ("Ctrl+V", "paste one"), ("Ctrl+I", "choose a file")]
        if s.asking():
            return [("Click", s.asking()), ("Esc", "leave it")]
        if s.tools.hint():
            return s.tools.hint()
        if s.placing is not None:
            face = [("Ctrl+J", "find the face")] if s.marks.view == "front" and available() else []
            return [("Click", s.anchor_wanted()), *face, ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.active:
            group, left = s.open_in_group()
            walk = [("Enter", "confirm, next"), ("Shift+Enter", f"confirm all {group.lower()}")] if left else [("Tab", "next")]
            more = [("H", "hidden"), ("Ctrl+B", "absent by design"), ("Esc", "done")]
            return [("Drag", "the point"), ("Arrows", "1 px"), ("Shift", "10 px"), *walk, *more]
        return [
            ("Drag", "a point"), ("Tab", "walk them"), ("Wheel", "zoom"), ("Space-drag", "pan"), ("Ctrl+D", "measuring stick"),
            ("Ctrl+T", "own span"), ("Hover", "a row to see what it measures"),
        ]  # fmt: skip

    def reading_note(self) -> tuple[str, str, str]:
        reg = self.document.seen().registry
        for k in self.hot:
            if k in self.list.rows and k in reg.index:
                i = self.list.rows[k].item
                usual = f"usual {i.show(i.norm)} ± {i.sd:g}" if i.norm is not None and i.sd is not None else ""
                value = i.show(i.reference) + (f" {reg[k].unit}" if not i.angle else "") if i.reference is not None else "–"
                return i.label, value, usual
        return "", "", ""
