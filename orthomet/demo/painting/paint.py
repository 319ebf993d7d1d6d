"""Paint the demo's pictures into ``orthomet/demo/assets``: ``python -m orthomet.demo.painting.paint``."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PIL import Image

from orthomet.core.head.points import plan_points
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.plan.plan import make_plan
from orthomet.core.proportions.measure import measure

from ..cast import BERTA, BERTA_DECISIONS, LORN, STUDIES, WICK, sketchbook_faces, study_face
from .creature import paint_creature
from .drawing import SMALL, paint_drawing, pencil_face
from .figure import paint_figure
from .pages import drifting_pages, from_the_side, long_armed, three_quarter
from .portrait import paint_portrait
from .profile import paint_profile
from .relief import Sitter

OUT = Path(__file__).resolve().parent.parent / "assets"

SITTERS = {
    "berta": (Sitter(BERTA, age=0.85, freckles=46, nose_depth=0.095, lips=0.7, cheek=0.022, extra={"hair_top": -0.078, "parting": -0.105, "hair_side": 0.384}),
              "parted", "roll-neck", (0.50, 0.55, 0.53), 11),
    "lorn": (Sitter(LORN, age=0.42, nose_depth=0.092, lips=0.8, skin=(0.80, 0.62, 0.50), lip=(0.60, 0.38, 0.36), iris=(0.36, 0.28, 0.20), hair=(0.30, 0.24, 0.19),
                    brow=(0.22, 0.17, 0.14), extra={"hair_top": -0.030, "parting": 0.0, "parting_t": 0.05, "hair_side": 0.318}),
             "swept", "high-collar", (0.56, 0.50, 0.42), 12),
    "wick": (Sitter(WICK, age=0.0, freckles=60, nose_depth=0.062, lips=0.9, brow_ridge=0.003, cheek=0.010, skin=(0.88, 0.70, 0.58), lip=(0.74, 0.44, 0.42), iris=(0.40, 0.42, 0.26),
                    hair=(0.62, 0.36, 0.20), brow=(0.44, 0.27, 0.17), extra={"hair_top": -0.060, "parting": 0.0, "parting_t": -0.05, "hair_side": 0.45}),
             "bob", "jersey", (0.44, 0.52, 0.58), 13),
}  # fmt: skip


def save(name: str, picture: Array, marks: dict[str, tuple[float, float]], view: str = "front") -> None:
    OUT.mkdir(exist_ok=True)
    Image.fromarray(picture).save(OUT / f"{name}.jpg", quality=90 if picture.shape[1] > 800 else 82, optimize=True)
    h, w = picture.shape[:2]
    body = {"view": view, "size": [w, h], "points": {n: [round(x, 3), round(y, 3)] for n, (x, y) in marks.items()}}
    (OUT / f"{name}.json").write_text(json.dumps(body, indent=1) + "\n")


def sketches() -> None:
    """The sketchbook's eight drawings and the demo hand's five studies."""
    for k, table in enumerate(sketchbook_faces()):
        save(f"sketch-{k + 1}", *pencil_face(table, plan_points(table), 50 + k, SMALL, 2.0 * (k % 3 - 1), bool(k % 4)))
    for who, seed in STUDIES:
        table = study_face(SITTERS[who][0].table, seed)
        save(f"study-{who}-{seed}", *pencil_face(table, plan_points(table), seed, SMALL, 1.0))


def pages() -> None:
    """Pages for Check, drawn from the plans the demo's own decisions make."""
    from ..project import planned

    young, grown, figure, face = planned()
    for k, page in enumerate(drifting_pages(young), 1):
        save(f"young-{k}", *page)
    save("berta-turned", *three_quarter(grown))
    save("berta-side", *from_the_side(grown), "profile")
    save("lorn-drawn", *long_armed(figure, face), "figure")


def main(names: list[str]) -> None:
    def wanted(name: str) -> bool:
        return not names or name in names

    for name, (sitter, hair, clothes, ground, seed) in SITTERS.items():
        if wanted(name):
            save(name, *paint_portrait(sitter, hair, clothes, ground, seed))
    if wanted("drawing"):
        marks = json.loads((OUT / "berta.json").read_text())["points"]
        plan = make_plan(measure(Landmarks("front", {k: tuple(v) for k, v in marks.items()})), BERTA_DECISIONS)
        save("berta-drawing", *paint_drawing(dict(plan.table), plan.points))
    if wanted("sketches"):
        sketches()
    if wanted("profile"):
        save("berta-profile", *paint_profile(SITTERS["berta"][0]), "profile")
    if wanted("figure"):
        save("lorn-figure", *paint_figure(SITTERS["lorn"][0]), "figure")
    if wanted("creature"):
        picture, ends = paint_creature()
        points = {f"own_{k}_{e}": xy for k, two in ends.items() for e, xy in zip("ab", two, strict=True)}
        save("klinker", picture, points)
    if wanted("pages"):
        pages()
    if wanted("shapes"):
        from .shapes import write

        write(OUT)


if __name__ == "__main__":
    main(sys.argv[1:])
