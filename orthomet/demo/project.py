"""The demo project, put together from the painted pictures that ship and what the cast file says."""

from __future__ import annotations

from functools import cache
from importlib import resources

from ..core.derived import Supposed
from ..core.hashing import content_hash
from ..core.head.body import Wear
from ..core.imaging.load import peek
from ..core.landmarks.files import landmarks_from_text
from ..core.landmarks.points import State
from ..core.people import HeadOn
from ..core.plan.decisions import Decisions
from ..core.plan.figure import FigurePlan
from ..core.plan.plan import Plan
from ..core.project.model import Character, Drawing, Image, Marks, Project, Reference, Study, Swatch
from ..core.project.store import Stored
from ..core.resolve import Face
from ..core.swatches import mixed
from .cast import (
    BERTA_DECISIONS,
    BERTA_FEATURES,
    BERTA_YOUNG,
    COLOURS,
    KLINKER_SPANS,
    LORN_DECISIONS,
    LORN_FEATURES,
    STUDIES,
    TITLE,
    WICK_DECISIONS,
    WICK_FEATURES,
    WICK_OLD,
    WICK_STRONG,
)
from .shapes import creature, traced_people


def _asset(name: str) -> bytes:
    return resources.files("orthomet.demo.assets").joinpath(name).read_bytes()


def _picture(name: str, store: dict[str, bytes]) -> tuple[Image, Marks]:
    data = _asset(f"{name}.jpg")
    key = content_hash(data)
    store[key] = data
    marks = landmarks_from_text(_asset(f"{name}.json").decode(), name)
    image = Image(hash=key, suffix="jpg", size=peek(data, name)[1])
    return image, Marks(view=marks.view, points=dict(marks.points))


def _reference(cid: str, name: str, credit: str, store: dict[str, bytes], title: str = "Portrait") -> Reference:
    image, marks = _picture(name, store)
    return Reference(
        id=f"{cid}-{title.casefold()}", name=title, image=image, credit=credit, rights="Free to use with Orthomet", marks=marks
    )


def _drawing(name: str, title: str, store: dict[str, bytes]) -> Drawing:
    image, marks = _picture(name, store)
    return Drawing(id=name, name=title, image=image, marks=marks)


def _sketchbook(store: dict[str, bytes]) -> Study:
    samples = tuple(_drawing(f"sketch-{k}", f"Lamp-room page {k}", store) for k in range(1, 9))
    return Study(
        id="lamp-room", title="Lamp-room sketchbook", samples=samples,
        note="Eight pages by one invented hand: low wide eyes, a small nose, a thin neck.",
        checklist={"What stands for the nose": "two nostrils and a wing on each side", "Dots, blush or hatching by the eye": "none"},
    )  # fmt: skip


def _studies(cid: str, store: dict[str, bytes]) -> tuple[Drawing, ...]:
    names = [f"study-{who}-{seed}" for who, seed in STUDIES if who == cid]
    return tuple(_drawing(n, f"Study from life {k}", store) for k, n in enumerate(names, 1))


def _unsure(ref: Reference, spread: float) -> Reference:
    """The crown was found under the hair: placed, but uncertain; jaw corners still to be confirmed."""
    states = dict.fromkeys(("gonion_l", "gonion_r", "neck_side_l", "neck_side_r"), State.ESTIMATED)
    marks = ref.marks.model_copy(update={"spread": {"vertex": spread}, "states": states})
    return ref.model_copy(update={"marks": marks})


def _swatches(cid: str) -> tuple[Swatch, ...]:
    """Their colours, each with the part it paints."""
    return tuple(
        Swatch(name=part.capitalize(), colour=c, edge=mixed(c, "#202838", 0.30), centre=mixed(c, "#ffffff", 0.35), parts=(part,))
        for part, c in COLOURS.get(cid, {}).items()
    )


def planned() -> tuple[Plan, Face, FigurePlan, HeadOn]:
    """What the pages for Check are drawn from: Berta at fourteen, Berta, Lorn's figure and his head."""
    d = Supposed(demo_people(False).project, "berta", "")
    young, rough = d.plan_of(BERTA_YOUNG.id), d.project.characters[0].drawings[0]
    grown = d.basis_of(rough)
    assert isinstance(grown, Face)
    lorn = Supposed(demo_people(False).project, "lorn", "")
    face = lorn.plan_of("")
    return young, grown, lorn.figure_plan_of(""), HeadOn(face.table, face.points, Wear(choices=LORN_FEATURES))


def _figure_page(store: dict[str, bytes]) -> Drawing:
    """Lorn standing, one forearm too long."""
    image, marks = _picture("lorn-drawn", store)
    return Drawing(id="lorn-drawn", name="Standing, from memory", image=image, marks=marks, made="2026-10-11")


def _young_pages(store: dict[str, bytes]) -> tuple[Drawing, ...]:
    """Eight pages of Berta at fourteen, from spring to autumn, their eyes creeping up; and Berta turned aside."""
    out = []
    for k in range(1, 9):
        d = _drawing(f"young-{k}", f"Harbour-school page {k}", store)
        out.append(d.model_copy(update={"version": BERTA_YOUNG.id, "made": f"2026-{2 + k:02d}-{5 + 2 * k:02d}"}))
    turned = _drawing("berta-turned", "Three-quarter", store).model_copy(update={"turned": True, "made": "2026-11-02"})
    side = _drawing("berta-side", "From the side", store).model_copy(update={"made": "2026-11-09"})
    return (*out, turned, side)


def demo_project() -> Stored:
    """The Night Ferry at Quillmere: three of its people, a creature, a drawing of the pilot with two known faults; and their shapes."""
    stored = _whole_project()
    return Stored(stored.project, dict(stored.pictures))


@cache
def _whole_project() -> Stored:
    stored = demo_people()
    shapes = {**traced_people(), "klinker": creature("klinker-portrait")}
    characters = tuple(c.model_copy(update={"shapes": shapes[c.id]}) if c.id in shapes else c for c in stored.project.characters)
    return Stored(stored.project.model_copy(update={"characters": characters}), stored.pictures)


def demo_people(pages: bool = True) -> Stored:
    """Everything of it but the shapes; without ``pages`` also without those that are drawn from its own plans."""
    store: dict[str, bytes] = {}
    by = "the Quillmere picture-book, painted for Orthomet's demo"
    drawn, drawn_marks = _picture("berta-drawing", store)
    berta, lorn = f"Berta Sprake, {by}", f"Lorn Tackett, {by}"

    def person(
        cid: str,
        name: str,
        role: str,
        height: float,
        age: float,
        decisions: Decisions,
        refs: tuple[Reference, ...],
        **more: object,
    ) -> Character:
        fields = {"references": refs, "chosen_reference": refs[0].id, "decisions": decisions, "swatches": _swatches(cid), **more}
        return Character(id=cid, name=name, role=role, height_m=height, age=age, **fields)

    cast = (
        person(
            "berta", "Berta Sprake", "pilot, 54", 1.68, 54, BERTA_DECISIONS,
            (_reference("berta", "berta", berta, store), _reference("berta", "berta-profile", berta, store, "Profile")),
            noticed=("nose_length_hh", "eye_gap_ew", "mouth_width_fw", "eye_opening_ew", "Freckles"), idea="steady",
            directions={"jaw_width_fw": 1, "eye_opening_ew": -1}, needs="Reads the river in the dark; is not hurried by anyone.",
            drawings=(
                Drawing(id="berta-rough", name="Rough, first night", image=drawn, marks=drawn_marks, made="2026-11-20"),
                *(_young_pages(store) if pages else ()),
            ),
            features=BERTA_FEATURES, versions=(BERTA_YOUNG,),
        ),
        person(
            "lorn", "Lorn Tackett", "ticket clerk", 1.90, 38, LORN_DECISIONS,
            (_unsure(_reference("lorn", "lorn", lorn, store), 12.0), _reference("lorn", "lorn-figure", lorn, store, "Figure")),
            noticed=("face_width_hh", "jaw_width_fw"), features=LORN_FEATURES,
            drawings=(*_studies("lorn", store), *((_figure_page(store),) if pages else ())),
        ),
        person(
            "wick", "Wick", "deckhand, 10", 1.36, 10, WICK_DECISIONS, (_reference("wick", "wick", f"Wick, {by}", store),),
            noticed=("eye_station",), features=WICK_FEATURES, versions=(WICK_OLD, WICK_STRONG), drawings=_studies("wick", store),
        ),
        person(
            "klinker", "Klinker", "of the boiler room", 1.15, 40, Decisions(), (_reference("klinker", "klinker", f"Klinker, {by}", store),),
            spans=KLINKER_SPANS, idea="warm",
        ),
    )  # fmt: skip
    return Stored(Project(title=TITLE, characters=cast, studies=(_sketchbook(store),)), store)
