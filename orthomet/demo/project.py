"""The demo project, put together from the painted pictures that ship and what the cast file says."""

from __future__ import annotations

from importlib import resources

from ..core.hashing import content_hash
from ..core.imaging.load import peek
from ..core.landmarks.files import landmarks_from_text
from ..core.landmarks.points import State
from ..core.plan.decisions import Decisions
from ..core.project.model import Character, Drawing, Image, Marks, Project, Reference
from ..core.project.store import Stored
from .cast import BERTA_DECISIONS, LORN_DECISIONS, TITLE, WICK_DECISIONS


def _asset(name: str) -> bytes:
    return resources.files("orthomet.demo.assets").joinpath(name).read_bytes()


def _picture(name: str, store: dict[str, bytes]) -> tuple[Image, Marks]:
    data = _asset(f"{name}.jpg")
    key = content_hash(data)
    store[key] = data
    marks = landmarks_from_text(_asset(f"{name}.json").decode(), name)
    image = Image(hash=key, suffix="jpg", size=peek(data, name)[1])
    return image, Marks(points=dict(marks.points))


def _reference(cid: str, name: str, credit: str, store: dict[str, bytes]) -> Reference:
    image, marks = _picture(name, store)
    return Reference(id=f"{cid}-portrait", name="Portrait", image=image, credit=credit, marks=marks)


def _unsure(ref: Reference, spread: float) -> Reference:
    """The crown was found under the hair: placed, but uncertain; jaw corners still to be confirmed."""
    states = dict.fromkeys(("gonion_l", "gonion_r", "neck_side_l", "neck_side_r"), State.ESTIMATED)
    marks = ref.marks.model_copy(update={"spread": {"vertex": spread}, "states": states})
    return ref.model_copy(update={"marks": marks})


def demo_project() -> Stored:
    """The Night Ferry at Quillmere: three of its people, and a drawing of the pilot with two known faults."""
    store: dict[str, bytes] = {}
    by = "the Quillmere picture-book, painted for Orthomet's demo"
    drawn, drawn_marks = _picture("berta-drawing", store)

    def person(
        cid: str, name: str, role: str, height: float, age: float, decisions: Decisions, ref: Reference, **more: object
    ) -> Character:
        return Character(
            id=cid,
            name=name,
            role=role,
            height_m=height,
            age=age,
            decisions=decisions,
            references=(ref,),
            chosen_reference=ref.id,
            **more,
        )  # type: ignore[arg-type]

    cast = (
        person(
            "berta", "Berta Sprake", "pilot, 54", 1.68, 54, BERTA_DECISIONS, _reference("berta", "berta", f"Berta Sprake, {by}", store),
            noticed=("nose_length_hh", "eye_gap_ew", "mouth_width_fw", "eye_opening_ew", "Freckles"),
            drawings=(Drawing(id="berta-rough", name="Rough, first night", image=drawn, marks=drawn_marks),),
        ),
        person(
            "lorn", "Lorn Tackett", "ticket clerk", 1.90, 38, LORN_DECISIONS,
            _unsure(_reference("lorn", "lorn", f"Lorn Tackett, {by}", store), 12.0), noticed=("face_width_hh", "jaw_width_fw"),
        ),
        person("wick", "Wick", "deckhand, 10", 1.36, 10, WICK_DECISIONS, _reference("wick", "wick", f"Wick, {by}", store), noticed=("eye_station",)),
    )  # fmt: skip
    return Stored(Project(title=TITLE, characters=cast), store)
