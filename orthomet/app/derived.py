"""What follows from the open project: measured face, plan, check and the rest, each kept while its source is the same value."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import numpy as np

from ..core.check.check import Check, check
from ..core.check.own import OwnCheck, check_own
from ..core.errors import OrthometError
from ..core.hands import Pair, hand_of, pairs_of
from ..core.landmarks.points import problem
from ..core.plan.decisions import Decisions
from ..core.plan.own import OwnPlan, plan_own
from ..core.plan.plan import Plan
from ..core.plan.versions import decisions_of
from ..core.project.model import Character, Drawing, Project
from ..core.proportions.measure import Measured
from ..core.proportions.norms import Norm, norm_over
from ..core.proportions.registry import Registry, front_registry
from ..core.proportions.views import registry_of
from ..core.references import measure_reference, on_page
from ..core.resolve import (
    measured_reference,
    norm_for,
    nothing_measured,
    plan_of_character,
    plan_toward,
    style_for,
)
from ..core.studies import style_of_study
from ..core.styles.hand import Hand
from ..core.styles.library import Style, style, styles

T = TypeVar("T")
MOST_DERIVED = 48
"""Derived values kept at once: plans of versions and styles that are gone are not held for ever."""


class Derived:
    """The half of the document that only asks: pure functions of the tree and of what is looked at."""

    project: Project
    character: Character | None
    drawing: Drawing | None
    version_id: str
    _cache: dict[str, tuple[object, object]]

    def _derive(self, name: str, source: object, make: Callable[[], T]) -> T:
        hit = self._cache.pop(name, None)
        if hit is None or hit[0] != source:
            hit = (source, make())
        self._cache[name] = hit  # the latest use stands last
        while len(self._cache) > MOST_DERIVED:
            del self._cache[next(iter(self._cache))]
        return hit[1]  # type: ignore[return-value]

    def landmark_problem(self) -> str:
        """Why the chosen reference cannot be measured, or an empty string."""
        c = self.character
        ref = c.reference if c else None
        return (problem(ref.marks.landmarks()) or "") if ref else ""

    def measured(self) -> Measured:
        """The face the plan follows."""
        c = self.character
        if c is None or c.reference is None:
            return nothing_measured()

        def make() -> Measured:
            try:
                return measured_reference(c)
            except OrthometError:
                return nothing_measured()

        return self._derive("measured", (c.references, c.chosen_reference, c.pooled, c.spans), make)

    def seen(self) -> Measured:
        """The chosen reference alone, whatever view it shows."""
        c = self.character
        ref = c.reference if c else None
        if c is None or ref is None:
            return nothing_measured()

        def make() -> Measured:
            try:
                return measure_reference(ref, c.spans)
            except OrthometError:
                reg = registry_of(ref.marks.view, c.spans)
                n = len(reg.readings)
                return Measured(reg, np.full(n, np.nan), (None,) * n, np.zeros(n))

        return self._derive("seen", (ref, c.spans), make)

    def styles(self) -> list[Style]:
        """Styles on offer: the library's, then the project's studies."""
        return [*styles().values(), *(style_of_study(s) for s in self.project.studies)]

    def pure(self, shown: Style) -> Plan:
        """A style by itself, on an average subject."""
        return self._derive(f"pure {shown.name}", shown, lambda: plan_toward(shown))

    def hands(self) -> tuple[tuple[Pair, ...], Hand | None]:
        """Every pair of reference and drawing, and what those that count say of the artist's hand."""

        def make() -> tuple[tuple[Pair, ...], Hand | None]:
            pairs = pairs_of(self.project)
            return pairs, hand_of(pairs)

        return self._derive("hands", (self.project.characters, self.project.hand_left_out), make)

    def toward(self) -> Style:
        """The style the plan that is worked on goes toward."""
        return self.toward_of(self.version_id)

    def toward_of(self, vid: str) -> Style:
        """The style the plan of one version goes toward."""
        own = self.character.decisions.style if self.character else Decisions().style
        for name in (self.decisions_for(vid).style, own):
            try:
                return style_for(name, self.project.studies)
            except OrthometError:
                continue
        return style(Decisions().style)

    def norm(self, registry: Registry | None = None) -> Norm:
        """The norm the open character is read against."""
        reg = registry or front_registry()
        name = (self.character.decisions if self.character else Decisions()).norm

        def make() -> Norm:
            try:
                return norm_for(name, reg, self.project)
            except OrthometError:
                return norm_over("adult", reg)

        source = (name, reg, self.project if name == "cast" else (self.project.studies if name.startswith("style:") else ()))
        return self._derive(f"norm {reg.schema.view}", source, make)

    def norm_choices(self) -> list[tuple[str, str]]:
        """Norms on offer for the open character: name and words."""
        out = [("adult", "adult average")]
        c = self.character
        if c is not None and c.age < 20:
            out.append((f"age:{c.age:g}", f"average at {c.age:g}"))
        out += [(f"style:{s.name}", f"style: {s.title}") for s in self.styles()]
        out.append(("cast", "mean of this cast"))
        if c is not None and c.decisions.norm not in dict(out):
            out.append((c.decisions.norm, c.decisions.norm.replace("age:", "average at ")))
        return out

    def decisions(self) -> Decisions:
        """What is decided for the character, or for the version that is worked on."""
        return self.decisions_for(self.version_id)

    def decisions_for(self, vid: str) -> Decisions:
        """What is decided for one version; for the character itself with an empty id."""
        c = self.character
        if c is None:
            return Decisions()
        v = c.version(vid)
        return decisions_of(c.decisions, v, c.age) if v is not None else c.decisions

    def version_words(self) -> str:
        """The version that is worked on, as it follows a name; empty for the character itself."""
        c = self.character
        v = c.version(self.version_id) if c is not None else None
        return f", {v.title}" if v is not None else ""

    def plan(self) -> Plan:
        """The plan of the character, or of the version that is worked on."""
        return self.plan_of(self.version_id)

    def plan_of(self, vid: str) -> Plan:
        """The plan of one version; of the character itself with an empty id."""
        c = self.character or Character(id="none", name="")

        def make() -> Plan:
            try:
                return plan_of_character(c, self.project, vid)
            except OrthometError:
                return plan_of_character(c.model_copy(update={"references": ()}), self.project, vid)

        d = c.decisions
        far = (self.project if d.norm == "cast" else (), self.project.studies)
        source = (c.references, c.chosen_reference, c.pooled, c.spans, d, c.version(vid), c.age, c.noticed, far)
        return self._derive(f"plan {vid}", source, make)

    def own_plans(self) -> tuple[OwnPlan, ...]:
        """Plans of the character's own spans, or of the version's that is worked on."""
        return self.own_plans_of(self.version_id)

    def own_plans_of(self, vid: str) -> tuple[OwnPlan, ...]:
        """Plans of one version's own spans, each from the first reference it is measured on."""
        c = self.character
        if c is None or not c.spans:
            return ()
        d, toward = self.decisions_for(vid), self.toward_of(vid)

        def make() -> tuple[OwnPlan, ...]:
            found: dict[str, float] = {}
            for ref in c.references:
                try:
                    m = measure_reference(ref, c.spans)
                except OrthometError:
                    continue
                found = {k: v for k, v in m.table.items() if k.startswith("own_")} | found
            return plan_own(c.spans, found, d, toward)

        return self._derive(f"own plans {vid}", (c.references, c.spans, d, toward.name, self.project.studies), make)

    def check(self) -> Check | str:
        """The drawing against the plan, or the sentence that says why it cannot be checked."""
        d = self.drawing
        if d is None:
            return "There is no drawing yet."
        plan = self.plan_of(d.version)

        def make() -> Check | str:
            try:
                page = on_page(d)
                return check(page.marks, plan.points, d.meant, None, page.px_per_mm, d.noise)
            except OrthometError as e:
                return str(e)

        return self._derive("check", (d.marks, d.sheet, d.meant, d.noise, plan.points.tobytes()), make)

    def check_own(self) -> tuple[OwnCheck, ...]:
        """The character's own spans on the drawing against their plans; nothing where the points cannot be measured."""
        c, d = self.character, self.drawing
        if c is None or d is None or not c.spans:
            return ()
        plans = self.own_plans_of(d.version)

        def make() -> tuple[OwnCheck, ...]:
            try:
                page = on_page(d, c.spans)
                return check_own(page.marks, plans, d.noise, page.px_per_mm)
            except OrthometError:
                return ()

        return self._derive("own check", (d.marks, d.sheet, d.noise, c.spans, plans), make)
