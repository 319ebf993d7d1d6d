"""The shapes of the demo's cast: the creature as it was put together from plain ones, the people as they were traced."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import resources

from ..core.datafiles import Record, parse
from ..core.shapes.model import Part, Relation, Shape, Shapes
from ..core.shapes.plain import KINDS

PX, MID, CROWN = 100.0, 450.0, 110.0
"""Where the creature stands on its picture, as it was painted."""
Row = tuple[str, str, float, float, float, float, tuple[float, ...], float, str, str, float]
"""Name, kind, middle, width, height, own numbers, turn, role, what it hangs on, tone."""


def _both(row: Row) -> list[Row]:
    name, kind, x, y, w, h, own, turn, role, on, tone = row
    one = f"{on}, right" if on in ("arm", "forearm") else on
    other = f"{on}, left" if on in ("arm", "forearm") else on
    return [
        (f"{name}, right", kind, -x, y, w, h, own, -turn, role, one, tone),
        (f"{name}, left", kind, x, y, w, h, own, turn, role, other, tone),
    ]


def _rows() -> list[Row]:
    rows: list[Row] = [
        *_both(("foot", "trapezoid", 1.27, 7.3, 1.0, 1.25, (0.16, 0.1), 0, "foot", "boiler", 0.7)),
        *_both(("arm", "capsule", 3.1, 3.95, 0.72, 2.1, (), -62, "arm", "boiler", 0.6)),
        *_both(("forearm", "capsule", 3.85, 5.3, 0.72, 2.2, (), -8, "arm", "arm", 0.6)),
    ]
    for k, at in enumerate((-0.38, 0.0, 0.38), 1):
        rows += _both(
            (f"claw {k}", "triangle", 3.85 + 0.9 * at, 6.5, 0.3, 0.62, (0.0, 0.1), 180 - 22 * at, "other", "forearm", 0.8)
        )
    rows += [
        ("funnel", "rectangle", 1.15, 0.45, 0.92, 2.2, (), 0, "other", "boiler", 0.7), ("rim", "trapezoid", 1.15, -0.68, 1.1, 0.22, (-0.14, 0.0), 0, "other", "funnel", 0.8),
        ("boiler", "rounded-rectangle", 0, 4.0, 5.2, 6.0, (0.85,), 0, "torso", "", 0.3), ("eye", "circle", 0, 3.1, 2.1, 2.1, (), 0, "eye", "boiler", 0.1),
        ("glow", "circle", 0, 3.1, 1.72, 1.72, (), 0, "eye", "eye", 0.3), ("pupil", "ellipse", 0.12, 3.14, 0.72, 0.88, (), 0, "other", "glow", 0.9),
        ("grate", "trapezoid", 0, 5.38, 2.86, 0.86, (-0.05, 0.0), 0, "mouth", "boiler", 0.1),
    ]  # fmt: skip
    rows += [(f"bar {k}", "rectangle", -1.0 + 0.5 * (k - 1), 5.38, 0.12, 1.0, (), 0, "other", "grate", 0.7) for k in range(1, 6)]
    return rows


def creature(reference: str) -> Shapes:
    """Klinker: two dozen plain shapes on its picture, and what holds between them."""
    rows = _rows()
    ids = {row[0]: f"k{n:02d}" for n, row in enumerate(rows)}
    parts = tuple(_part(row, ids, reference) for row in rows)
    return Shapes(parts=parts, relations=tuple(_holds(ids)))


def _part(row: Row, ids: dict[str, str], reference: str) -> Part:
    name, kind, x, y, w, h, own, turn, role, on, tone = row
    bounds = KINDS[kind].bounds
    shape = Shape(kind=kind, x=MID + PX * x, y=CROWN + PX * y, width=PX * w, height=PX * h, turn=turn, own=own[: len(bounds)])
    return Part(id=ids[name], name=name, role=role, on=ids.get(on, ""), reference=reference, kind=kind, shape=shape, tone=tone)


def _holds(ids: dict[str, str]) -> Iterator[Relation]:
    def one(kind: str, *names: str, value: float = 0.0) -> Relation:
        return Relation.model_validate({"kind": kind, "parts": tuple(ids[n] for n in names), "value": value})

    for pair in ("foot", "arm", "forearm"):
        yield one("mirrored", f"{pair}, right", f"{pair}, left")
    for side in ("left", "right"):
        yield one("overlaps", f"foot, {side}", "boiler", value=0.2)
        yield one("overlaps", f"arm, {side}", "boiler", value=0.2)
        yield one("overlaps", f"forearm, {side}", f"arm, {side}", value=0.3)
    yield one("level", "foot, right", "foot, left")
    yield one("overlaps", "funnel", "boiler", value=0.2)
    yield one("touches", "rim", "funnel")
    yield one("centred", "rim", "funnel")
    yield one("inside", "eye", "boiler")
    yield one("centred", "eye", "boiler")
    yield one("inside", "glow", "eye")
    yield one("centred", "glow", "eye")
    yield one("inside", "pupil", "glow")
    yield one("inside", "grate", "boiler")
    yield one("centred", "grate", "boiler")
    yield one("row", *(f"bar {k}" for k in range(1, 6)))
    yield one("centred", "bar 3", "grate")


class Traced(Record):
    """What ships of the people's shapes."""

    people: dict[str, Shapes]


def traced_people() -> dict[str, Shapes]:
    """The people's shapes by id, as ``make paint`` traced them."""
    text = resources.files("orthomet.demo.assets").joinpath("shapes.json").read_text(encoding="utf-8")
    return parse(Traced, text, "shapes.json").people
