"""What the gauges of the Styles station show: two styles over the readings either of them speaks of."""

from __future__ import annotations

from dataclasses import replace

from ..project.model import Study
from ..proportions.norms import Norm
from ..proportions.registry import Registry, Role, front_registry
from ..proportions.views import registry_of
from ..styles.library import Style
from .item import FOLLOW, GaugeItem, base_item


def registries(a: Style, b: Style) -> list[Registry]:
    """The face, and the other views where one of the two styles speaks of them."""
    spoken = {*a.readings, *b.readings}
    others = [registry_of(v) for v in ("profile", "figure")]
    return [front_registry(), *(reg for reg in others if spoken & (set(reg.keys) - set(front_registry().keys)))]


def style_items(shown: Style, other: Style, study: Study | None, norms: dict[str, Norm]) -> list[GaugeItem]:
    """A gauge for every trait a style decides, and for what else either style was measured to do.

    ``norms`` by view, each over that view's own registry.
    """
    out, seen = [], set()
    for reg in registries(shown, other):
        front, against = reg.schema.view == "front", norms[reg.schema.view]
        for r in reg.readings:
            a, b = shown.readings.get(r.key), other.readings.get(r.key)
            wanted = (front and r.role is Role.INDEPENDENT) or a is not None or b is not None
            if not wanted or r.key in seen or r.role is Role.BALANCE:
                continue
            seen.add(r.key)
            base = base_item(r.key, against, reg)
            group = FOLLOW if front and r.role is Role.DERIVED else base.group
            out.append(replace(
                base, group=group, style=a.mean if a else base.norm, assumed=a is None, own_sd=a.sd if a else None,
                signature=bool(a and a.signature), other=b.mean if b else base.norm,
                free=study is not None and r.role is not Role.DERIVED, by_hand=bool(study and study.samples and r.key in study.rows),
            ))  # fmt: skip
    return out
