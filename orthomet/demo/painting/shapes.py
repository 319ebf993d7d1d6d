"""The people's shapes, traced once from their portraits and plans, to ship with the demo."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from importlib import resources
from pathlib import Path

import numpy as np

from ...core.derived import Supposed
from ...core.imaging.load import load
from ...core.landmarks.frame import Frame
from ...core.project.model import Project
from ...core.shapes.masks import contour_of, of_box
from ...core.shapes.model import Part
from ...core.shapes.sources import frame_for, head_parts, part_of

Line = Sequence[tuple[float, float]]
HAIR: dict[str, tuple[tuple[float, float, float, float], list[Line], list[Line]]] = {
    "berta": ((-0.52, -0.14, 0.52, 0.47), [[(-0.30, 0.05), (0.0, -0.04), (0.30, 0.05)]], [[(-0.2, 0.3), (0.2, 0.3)], [(0.0, 0.25), (0.0, 0.46)]]),
    "lorn": ((-0.5, -0.14, 0.5, 0.45), [[(-0.26, 0.06), (0.0, -0.02), (0.26, 0.06)]], [[(-0.18, 0.27), (0.18, 0.27)], [(0.0, 0.24), (0.0, 0.44)]]),
    "wick": ((-0.56, -0.16, 0.56, 1.06), [[(-0.3, 0.0), (0.3, 0.0)], [(-0.42, 0.3), (-0.44, 0.9)], [(0.42, 0.3), (0.44, 0.9)]],
             [[(0.0, 0.55), (0.0, 1.0)], [(-0.2, 0.6), (0.2, 0.6)], [(-0.18, 1.02), (0.18, 1.02)]]),
}  # fmt: skip
"""Box, strokes over the hair, strokes over what is not, in heads."""


def trace(project: Project, pictures: Mapping[str, bytes]) -> dict[str, list[Part]]:
    """Hair from the portraits, the head's shapes from the plans, by character."""
    out = {}
    for cid, (box, yes, no) in HAIR.items():
        d = Supposed(project, cid, "")
        c = d.character
        assert c is not None and c.face is not None
        ref = c.face
        f = frame_for(ref.marks.landmarks(ref.image.size), ref.image.size)
        rgb = np.asarray(load(pictures[ref.image.hash], ref.name).pixels)[..., :3]
        contour, corners = contour_of(of_box(rgb, _box(f, box), _lines(f, yes), _lines(f, no)), 240, 0.012)
        plan = d.plan()
        ids = (f"{cid}-{n}" for n in range(99))
        hair = part_of("hair", contour, "hair", f"{cid}-hair", corners=corners.tolist(), reference=ref.id, source="mask")
        out[cid] = [hair, *head_parts(plan.table, plan.points, ids.__next__)]
    return out


def _box(f: Frame, b: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    q = f.to_picture(np.array([[b[0], b[1]], [b[2], b[3]]]))
    return float(q[0, 0]), float(q[0, 1]), float(q[1, 0]), float(q[1, 1])


def _lines(f: Frame, lines: list[Line]) -> list[list[tuple[float, float]]]:
    return [[(float(x), float(y)) for x, y in f.to_picture(np.array(line))] for line in lines]


def _plain(p: Part) -> dict[str, object]:
    """A part as it ships: what is as usual left out, points to a tenth of a pixel or a ten-thousandth of a head."""
    body = p.model_dump(mode="json", exclude_defaults=True)
    if p.points and not p.even:
        body["points"] = [[round(x, 1 if p.reference else 5), round(y, 1 if p.reference else 5)] for x, y in p.points]
    return body


def write(folder: Path) -> None:
    from ..project import demo_people

    stored = demo_people()
    people = {k: {"parts": [_plain(p) for p in parts]} for k, parts in trace(stored.project, stored.pictures).items()}
    (folder / "shapes.json").write_text(json.dumps({"people": people}), encoding="utf-8")


if __name__ == "__main__":
    with resources.as_file(resources.files("orthomet.demo.assets")) as assets:
        write(Path(assets))
