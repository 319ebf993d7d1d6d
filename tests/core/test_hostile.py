"""Files somebody else wrote: features, expressions, versions and spans that cannot be are refused whole, with a sentence."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import OrthometError
from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.expression import Expression
from orthomet.core.features.table import features
from orthomet.core.head.body import Wear
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.model import FORMAT_VERSION, Character
from orthomet.core.project.store import Stored, read, to_json, write
from orthomet.core.styles.schools import schools
from orthomet.demo.cast import BERTA
from orthomet.demo.project import demo_project
from tests.faces import random_table

from .test_project import rezip

DEMO = demo_project()
FACES = st.builds(
    Expression,
    **{
        name: st.floats(next(m.ge for m in f.metadata if hasattr(m, "ge")), next(m.le for m in f.metadata if hasattr(m, "le")))
        for name, f in Expression.model_fields.items()
    },
)


@st.composite
def choices(draw: Any) -> FeatureChoices:
    """Any values the table allows."""
    values = {
        f.key: {p.key: draw(st.floats(p.low, p.high)) for p in f.parameters if draw(st.booleans())} for f in features().values()
    }
    return FeatureChoices(values=values, absent=tuple(k for k in features() if draw(st.integers(0, 5)) == 0))


@settings(max_examples=40, deadline=None)
@given(choices(), FACES, st.integers(0, 4000), st.floats(-100, 100), st.floats(-60, 60))
def test_any_allowed_face_is_drawn_at_any_turn(made: FeatureChoices, e: Expression, seed: int, yaw: float, pitch: float) -> None:
    """Round-trips through JSON, draws without an exception, never a line that runs to nowhere."""
    import numpy as np

    assert FeatureChoices.model_validate_json(made.model_dump_json()) == made
    table = random_table(np.random.default_rng(seed), 1.0)
    drawn = picture(scene(table, plan_points(table), Turn(yaw=yaw, pitch=pitch), Wear(choices=made, expression=e)))
    for p in drawn.paths():
        assert np.isfinite(p.points).all() and np.abs(p.points).max() < 2.0, p.name


@settings(max_examples=40, deadline=None)
@given(st.data())
def test_any_school_at_any_setting_goes_round_a_head(data: Any) -> None:
    import numpy as np

    s = data.draw(st.sampled_from(sorted(schools().values(), key=lambda x: x.name)))
    dials = {k: data.draw(st.floats(d.low, d.high)) for k, d in s.settings.items()}
    turn = Turn(yaw=data.draw(st.floats(-100, 100)), pitch=data.draw(st.floats(-60, 60)))
    view = scene(
        BERTA, plan_points(BERTA), turn, Wear(school=s.name, settings=dials), data.draw(st.sampled_from([None, 2.0, 8.0]))
    )
    assert len(view.guides) >= len(s.steps)
    assert all(np.isfinite(c.points).all() and len(c.points) == len(c.visible) for _, c in view.guides)


def _with(path: Path, change: Any) -> Path:
    """The demo on disk with its record changed."""
    body = json.loads(to_json(DEMO.project))
    change(body)
    write(path, Stored(DEMO.project, DEMO.pictures))
    import zipfile

    with zipfile.ZipFile(path) as z:
        pictures = {n: z.read(n) for n in z.namelist() if n != "project.json"}
    return rezip(path, **{"project.json": json.dumps(body)}, **pictures)


@pytest.mark.parametrize(
    "change",
    [
        lambda b: b["characters"][0]["features"].update(marks=[{"name": "x" * 500}]),
        lambda b: b["characters"][0]["features"].update(marks=[{"name": "m", "count": 10**9}]),
        lambda b: b["characters"][0]["features"].update(marks=[{"name": "m"}] * 500),
        lambda b: b["characters"][0]["expression"].update(mouth_open=7),
        lambda b: b["characters"][0]["expression"].update(wink=1),
        lambda b: b["characters"][0]["versions"].append(b["characters"][0]["versions"][0]),
        lambda b: b["characters"][0]["versions"][0].update(kind="wiser"),
        lambda b: b["characters"][0]["versions"][0].update(amount=-3),
        lambda b: b["characters"][0]["versions"][0].update(emphasis={"iris_ew": 1e9}),
        lambda b: b["characters"][0]["versions"][0].update(offsets={"iris_ew": 1e9}),
        lambda b: b["characters"][0]["versions"][0].update(group_weights={"Eyes": 7}),
        lambda b: b["characters"][0]["decisions"].update(uneven={"level_brow_peak_hh": 4}),
        lambda b: b["characters"][0]["decisions"].update(hold=400),
        lambda b: b["characters"][3]["spans"][0].update(usual=-1),
    ],
)
def test_a_record_that_cannot_be_is_refused_whole(tmp_path: Path, change: Any) -> None:
    with pytest.raises(OrthometError):
        read(_with(tmp_path / "bad.orthomet", change))


@pytest.mark.parametrize("value", [90, -90, 1e999, float("nan"), "wide", None, True, []])
def test_a_dial_beyond_its_range_is_held_inside_or_refused_but_never_kept(tmp_path: Path, value: Any) -> None:
    path = _with(tmp_path / "odd.orthomet", lambda b: b["characters"][0]["features"]["values"].update(eyes={"peak": value}))
    dial = features()["eyes"].parameter("peak")
    assert dial is not None
    if isinstance(value, bool | list | str | None) or value != value:
        with pytest.raises(OrthometError):
            read(path)
    else:
        stored = read(path)
        kept = stored.project.characters[0].features.values["eyes"]["peak"]
        assert kept in (dial.low, dial.high) and len(stored.told) == 1 and dial.words.lower() in stored.told[0]


def test_a_project_of_the_second_version_opens(tmp_path: Path) -> None:
    """Version 2 knew no features, expressions, versions, chosen unevenness, held likeness, usual spans."""

    def old(body: dict[str, Any]) -> None:
        body["format_version"] = 2
        for c in body["characters"]:
            for key in ("features", "expression", "versions", "pens", "figure"):
                c.pop(key)
            for key in ("uneven", "hold", "centre"):
                c["decisions"].pop(key)
            for d in c["drawings"]:
                d.pop("version"), d.pop("noise")
            for s in c["spans"]:
                s.pop("usual")
        for s in body["studies"]:
            for d in s["samples"]:
                d.pop("version"), d.pop("noise")

    got = read(_with(tmp_path / "two.orthomet", old)).project
    assert [c.id for c in got.characters] == [c.id for c in DEMO.project.characters] and FORMAT_VERSION == 9
    fresh = Character(id="x", name="X")
    for c, now in zip(got.characters, DEMO.project.characters, strict=True):
        assert (c.features, c.expression, c.versions) == (fresh.features, fresh.expression, ())
        assert c.decisions == now.decisions and c.references == now.references
