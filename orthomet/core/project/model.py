"""The project as a value: characters with their references, decisions and drawings. Pictures live by content hash."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, field_validator

from ..datafiles import Record
from ..errors import quoted
from ..features.choices import PLAIN, FeatureChoices
from ..features.expression import NEUTRAL, Expression
from ..features.pens import USUAL_PENS, LinePlan
from ..figure.choices import USUAL_FIGURE, FigureChoices
from ..landmarks.level import LevelBy
from ..landmarks.own import MAX_SPANS, OwnSpan, spans_problem
from ..landmarks.points import Landmarks, State
from ..landmarks.turn import Turn
from ..landmarks.views import OWN, SCHEMAS, known_somewhere
from ..plan.decisions import Decisions
from ..plan.versions import Version
from ..pose.model import UNPOSED, Posing
from ..shapes.model import NO_SHAPES, Shapes
from ..styles.library import StyleRow, row_problem
from .checked import MOST_NOTED, Attached, Counted, Moment, Noted

FORMAT_VERSION = 9
MAX_CHARACTERS, MAX_PICTURES_EACH = 500, 500


def _hash(v: str) -> str:
    if not re.fullmatch(r"[0-9a-f]{64}", v):
        raise ValueError("a picture is named by its SHA-256 hash")
    return v


def _finite(v: tuple[float, float]) -> tuple[float, float]:
    if max(abs(v[0]), abs(v[1])) > 1e9:
        raise ValueError("a point lies out of all bounds")
    return v


def _colour(v: str) -> str:
    if not re.fullmatch(r"#[0-9a-f]{6}", v):
        raise ValueError("a colour is written #rrggbb")
    return v


Colour = Annotated[str, AfterValidator(_colour)]
Hash = Annotated[str, AfterValidator(_hash)]
Point = Annotated[tuple[float, float], AfterValidator(_finite)]


class Marks(Record):
    """Landmarks as they are saved."""

    view: str = "front"
    points: dict[str, Point] = {}
    states: dict[str, State] = {}
    spread: dict[str, float] = {}

    @field_validator("view")
    @classmethod
    def _view(cls, v: str) -> str:
        if v not in SCHEMAS:
            raise ValueError(f"the view {quoted(v)} is not known")
        return v

    @field_validator("points", "states", "spread")
    @classmethod
    def _known(cls, v: dict[str, object]) -> dict[str, object]:
        for name in v:
            if not known_somewhere(name):
                raise ValueError(f"{quoted(name)} is not a landmark")
        return v

    @property
    def estimated(self) -> list[str]:
        """Points still to be confirmed."""
        return [n for n, s in self.states.items() if s is State.ESTIMATED]

    @property
    def only_own(self) -> bool:
        """Something is marked, and it is the artist's own parts alone: a creature, which owes nobody a face."""
        return bool(self.points) and all(OWN.fullmatch(n) for n in self.points)

    def landmarks(self, size: tuple[int, int] | None = None, spans: tuple[OwnSpan, ...] = ()) -> Landmarks:
        return Landmarks(self.view, self.points, self.states, self.spread, size, spans)


class Image(Record):
    """A picture in the store: its hash, its ending there, its size in pixels once upright."""

    hash: Hash
    suffix: Literal["png", "jpg", "webp", "tif", "bmp", "gif"]
    size: tuple[int, int]


class Sheet(Record):
    """A photographed page: its four corners on the picture (top left, top right, bottom right, bottom left) and its size."""

    corners: tuple[Point, Point, Point, Point]
    mm: tuple[Annotated[float, Field(gt=0, le=5000)], Annotated[float, Field(gt=0, le=5000)]]


class Reference(Record):
    id: str
    name: str
    image: Image
    credit: str = ""
    rights: str = Field("", max_length=300)
    level_by: LevelBy = LevelBy.CENTRE
    marks: Marks = Marks()
    turn: Turn | None = None
    """How the head is turned in the picture; undone before it is measured."""
    distance_m: float | None = Field(None, ge=0.2, le=1000)
    """From the lens to the face, where it is known."""
    sheet: Sheet | None = None
    expression: str = Field("", max_length=40)
    """The face it makes, by name; empty at rest. It is worn, not built: undone before anything is measured."""
    degree: float = Field(1.0, ge=0, le=1)
    """How strongly."""
    feeds: tuple[str, ...] = Field((), max_length=20)
    """Trait groups this reference is read for; empty: all."""


_UNJUDGED: dict[str, Any] = {"log": (), "earlier": (), "again": "", "made": "", "gate": {}, "counts": {}, "attached": {}}


class Earlier(Record):
    """A state of a drawing before this one."""

    image: Image
    when: Moment
    way: tuple[float, float, float, float, float, float] = (1, 0, 0, 0, 1, 0)
    """The map from its pixels to the drawing's now, rows of a 2 × 3 matrix."""

    @field_validator("way")
    @classmethod
    def _possible(cls, v: tuple[float, ...]) -> tuple[float, ...]:
        if not all(abs(x) <= 1e6 for x in v) or abs(v[0] * v[4] - v[1] * v[3]) < 1e-6:
            raise ValueError("an earlier state's map leads nowhere")
        return v


class Drawing(Record):
    id: str
    name: str
    image: Image
    marks: Marks = Marks()
    meant: tuple[str, ...] = Field((), max_length=2000)
    """Readings whose difference the artist wants; never asked again."""
    sheet: Sheet | None = None
    version: str = ""
    """Id of the character's version it shows; empty: the character itself."""
    noise: float | None = Field(None, gt=0, le=0.05)
    """How well its points are marked, one standard deviation in heads, where the artist says so."""
    basis: str = Field("", max_length=160)
    """What it is checked against: its plan (empty), “self”, “norm”, “style:…”, “school:…” or “drawing:…”."""
    expression: str = Field("", max_length=40)
    """The face it makes, by name; empty at rest. It is taken off before anything is judged."""
    degree: float = Field(1.0, ge=0, le=1)
    """How strongly."""
    turned: bool = False
    """Whether its head looks elsewhere than ahead: its pose is found, and the plan turned along."""
    turn: Turn | None = None
    """The pose, where the artist set it."""
    made: str = Field("", max_length=40)
    """The day it was drawn, ISO 8601, where it is known."""
    log: tuple[Noted, ...] = Field((), max_length=MOST_NOTED)
    """Its checks, oldest first."""
    earlier: tuple[Earlier, ...] = Field((), max_length=4)
    """The state before the last save, and the last one of an earlier day."""
    again: str = Field("", max_length=40)
    """The day from which on it asks to be looked at again, ISO 8601; empty: it does not ask."""
    gate: dict[str, Literal["overruled"]] = {}
    """What is overruled of the list before ink."""
    counts: dict[str, Annotated[int, Field(ge=0, le=10_000)]] = {}
    """Counted details as they are drawn, by id."""
    attached: dict[str, Annotated[float, Field(ge=-5, le=5)]] = {}
    """Attachment lines as they are drawn, shares along their parts, by id."""

    @field_validator("gate", "counts", "attached")
    @classmethod
    def _few(cls, v: dict[str, Any]) -> dict[str, Any]:
        if len(v) > 200 or any(len(k) > 60 for k in v):
            raise ValueError("a drawing counts up to 200 things")
        return v

    def images(self) -> tuple[Image, ...]:
        """Its picture, and those of its earlier states that are kept."""
        return (self.image, *(e.image for e in self.earlier))

    def judged(self) -> Drawing:
        """As far as a check looks at it: without its past."""
        return self.model_copy(update=_UNJUDGED)


class Swatch(Record):
    """A named colour that belongs to parts of the character; ``edge`` and ``centre`` are its darker and lighter tone."""

    name: str = Field(max_length=60)
    colour: Colour
    edge: Colour
    centre: Colour
    share: float = Field(0.0, ge=0, le=1)
    """Share of the reference's area."""
    parts: tuple[str, ...] = Field((), max_length=40)


class Study(Record):
    """A style in the project: drawings by one hand it is learned from, and values set by hand or read from a file."""

    id: str
    title: str = Field(min_length=1, max_length=80)
    note: str = Field("", max_length=2000)
    source: str = Field("", max_length=300)
    samples: tuple[Drawing, ...] = Field((), max_length=MAX_PICTURES_EACH)
    rows: dict[str, StyleRow] = {}
    """Values that stand instead of what the samples say."""
    checklist: dict[str, str] = {}
    """Marks of the style that no ruler sees: question → what was seen."""
    meant: tuple[str, ...] = Field((), max_length=2000)
    """Readings that are left alone on every drawing of a character that goes toward this style."""

    @field_validator("rows")
    @classmethod
    def _possible(cls, v: dict[str, StyleRow]) -> dict[str, StyleRow]:
        for key, row in v.items():
            sentence = row_problem(key, row)
            if sentence:
                raise ValueError(sentence)
        return v

    def images(self) -> tuple[Image, ...]:
        """Every picture of its samples."""
        return tuple(i for d in self.samples for i in d.images())

    @property
    def name(self) -> str:
        """What decisions call this style."""
        return f"study:{self.id}"


class Character(Record):
    id: str
    name: str
    role: str = ""
    height_m: float = Field(1.70, gt=0.05, le=30)
    age: float = Field(30, ge=0, le=150)
    references: tuple[Reference, ...] = Field((), max_length=MAX_PICTURES_EACH)
    chosen_reference: str = ""
    noticed: tuple[str, ...] = Field((), max_length=12)
    """What the artist noticed first: reading keys, or free words for what no ruler sees."""
    decisions: Decisions = Decisions()
    drawings: tuple[Drawing, ...] = Field((), max_length=MAX_PICTURES_EACH)
    pooled: bool = False
    """Measure every reference for the groups it feeds and take the mean, rather than the chosen one alone."""
    spans: tuple[OwnSpan, ...] = Field((), max_length=MAX_SPANS)
    idea: str = Field("", max_length=80)
    """The idea in a word: “slow”, “sly”."""
    directions: dict[str, Literal[-1, 1]] = {}
    """Which way the idea pushes a trait."""
    needs: str = Field("", max_length=2000)
    """What the story asks this character to do."""
    swatches: tuple[Swatch, ...] = Field((), max_length=60)
    features: FeatureChoices = PLAIN
    expression: Expression = NEUTRAL
    """What the face is drawn with; the plan knows nothing of it."""
    pens: LinePlan = USUAL_PENS
    """What it is inked with."""
    figure: FigureChoices = USUAL_FIGURE
    """What is decided for the body beside its readings."""
    posing: Posing = UNPOSED
    """How it stands, and how it might."""
    shapes: Shapes = NO_SHAPES
    """What it comes down to: plain shapes, dialled and pushed."""
    versions: tuple[Version, ...] = Field((), max_length=40)
    meant: tuple[str, ...] = Field((), max_length=2000)
    """Readings whose difference is wanted on every drawing."""
    counted: tuple[Counted, ...] = Field((), max_length=60)
    """Details that are counted on every drawing."""
    attached: tuple[Attached, ...] = Field((), max_length=60)
    """Where hems, belts and straps sit."""

    @field_validator("spans")
    @classmethod
    def _together(cls, v: tuple[OwnSpan, ...]) -> tuple[OwnSpan, ...]:
        sentence = spans_problem(v)
        if sentence:
            raise ValueError(sentence.rstrip("."))
        return v

    @field_validator("versions")
    @classmethod
    def _versions_apart(cls, v: tuple[Version, ...]) -> tuple[Version, ...]:
        ids = [x.id for x in v]
        if "" in ids or len(set(ids)) != len(ids):
            raise ValueError("every version needs an id of its own")
        return v

    def images(self) -> tuple[Image, ...]:
        """Every picture of its references and drawings."""
        return (*(r.image for r in self.references), *(i for d in self.drawings for i in d.images()))

    @property
    def reference(self) -> Reference | None:
        """The reference that is measured."""
        for r in self.references:
            if r.id == self.chosen_reference:
                return r
        return self.references[0] if self.references else None

    @property
    def face(self) -> Reference | None:
        """The reference whose front face the plan follows: the chosen one, or else the first that shows one."""
        ref = self.reference
        if ref is not None and ref.marks.view == "front":
            return ref
        return next((r for r in self.references if r.marks.view == "front"), None)

    def version(self, version_id: str) -> Version | None:
        return next((v for v in self.versions if v.id == version_id), None)

    def drawing(self, drawing_id: str) -> Drawing | None:
        return next((d for d in self.drawings if d.id == drawing_id), None)


class Project(Record):
    title: str = "Untitled cast"
    characters: tuple[Character, ...] = Field((), max_length=MAX_CHARACTERS)
    studies: tuple[Study, ...] = Field((), max_length=MAX_CHARACTERS)
    hand_left_out: tuple[str, ...] = Field((), max_length=10_000)
    """Pairs of reference and drawing (``<reference id>:<drawing id>``) that say nothing on the artist's hand."""

    @field_validator("characters")
    @classmethod
    def _unique(cls, v: tuple[Character, ...]) -> tuple[Character, ...]:
        ids = [c.id for c in v]
        if len(set(ids)) != len(ids):
            raise ValueError("two characters share one id")
        return v

    def character(self, character_id: str) -> Character | None:
        return next((c for c in self.characters if c.id == character_id), None)

    def images(self) -> dict[str, Image]:
        """Every picture the project uses, by hash."""
        holders: tuple[Character | Study, ...] = (*self.characters, *self.studies)
        return {i.hash: i for holder in holders for i in holder.images()}
