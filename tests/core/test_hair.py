"""Hair lies outside the skull, ends where it is told to, hides what it covers; its decisions are data, and old ones migrate."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon, unary_union

from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.table import feature
from orthomet.core.hair.chart import AZIMUTHS, Chart, skull_of
from orthomet.core.hair.dressed import Hair, dressed
from orthomet.core.hair.style import style_of
from orthomet.core.head.body import Wear
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import BOX, Scene, scene, scene_of
from orthomet.core.head.solid import solid
from orthomet.core.ink.stroke import length
from orthomet.core.ink.surface import Stuff
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink, Trace
from orthomet.core.project.migrate import STEPS
from orthomet.core.proportions.measure import measure_array
from orthomet.core.proportions.registry import front_registry
from orthomet.demo.cast import BERTA, WICK

STYLES = {v.name: v.set for v in feature("hair").variants if v.name != "skull only"}


def row(**values: float) -> dict[str, float]:
    return {**feature("hair").defaults(), **values}


def hair(table: dict[str, float], **values: float) -> Hair:
    out = dressed(solid(table), style_of(row(**values)))
    assert out is not None
    return out


def worn(yaw: float = 0, **values: float) -> Scene:
    choices = FeatureChoices().with_values("hair", {"kind": 1, **values})
    return scene(BERTA, plan_points(BERTA), Turn(yaw=yaw), Wear(choices=choices))


def lowest(h: Hair, low: float, high: float) -> float:
    """How far down hair comes between two azimuths."""
    out = []
    for s in h.surfaces:
        az = np.arctan2(s.points[..., 0], s.points[..., 2] - h.skull.centre[2])
        there = (az >= low) & (az <= high) & (s.stuff == Stuff.HAIR)
        out += s.points[..., 1][there].tolist()
    return max(out)


@pytest.mark.parametrize("name", STYLES)
@pytest.mark.parametrize("table", [BERTA, WICK])
def test_the_mass_lies_outside_the_skull(name: str, table: dict[str, float]) -> None:
    h = hair(table, **STYLES[name])
    skull = skull_of(solid(table))
    for s in h.surfaces:
        assert np.isfinite(s.points).all() and np.isfinite(s.normals).all(), s.name
        np.testing.assert_allclose(np.linalg.norm(s.normals, axis=-1), 1, atol=1e-6, err_msg=s.name)
    m, az = np.meshgrid(np.linspace(0.05, 0.95, 19), AZIMUTHS[::6], indexing="ij")
    out = h.chart.at(m, az) - skull.centre
    bare = skull.skin(m, az) - skull.centre
    assert (np.linalg.norm(out, axis=-1) > np.linalg.norm(bare, axis=-1) + 0.002).all()


def test_fringe_sides_and_back_end_where_they_are_told() -> None:
    brow, jaw, line = BERTA["brow_station"], skull_of(solid(BERTA)).jaw, BERTA["hairline_station"]
    loose = {"kind": 1.0, "point": 0.9, "clumps": 5.0}
    assert lowest(hair(BERTA, **loose, fringe=1.0), -0.3, 0.3) == pytest.approx(brow, abs=0.05)
    assert lowest(hair(BERTA, **loose, fringe=0.4), -0.3, 0.3) < line + 0.55 * (brow - line)
    assert lowest(hair(BERTA, **loose, sides=1.0, back=1.0), 1.0, 1.5) == pytest.approx(jaw, abs=0.06)
    assert lowest(hair(BERTA, **loose, sides=2.0, back=2.0), 1.0, 1.5) > 1.0
    assert lowest(hair(BERTA, **loose), 2.8, np.pi) < BERTA["ear_bottom_station"] + 0.12
    assert lowest(hair(BERTA, **loose, sides=1.5, back=2.5), 2.8, np.pi) > 1.05


def test_lift_volume_and_hairline_are_lengths_on_the_head() -> None:
    for lift in (0.02, 0.12):
        top = min(float(s.points[..., 1].min()) for s in hair(BERTA, kind=1, lift=lift).surfaces)
        assert top == pytest.approx(-lift, abs=0.012)
    thin, full = (hair(BERTA, kind=1, sides=1, volume=v).chart.at(0.9, 1.5)[0] for v in (0.02, 0.12))
    assert full - thin == pytest.approx(0.10, abs=0.02)
    charts = {
        k: Chart(skull_of(solid(BERTA)), style_of(row(kind=2, **{k: v})))
        for k, v in (("peak", 0.05), ("recede", 0.4), ("lift", 0.06))
    }
    plain = charts["lift"]
    assert charts["peak"].hairline(0.0) > plain.hairline(0.0) + 0.02 and charts["peak"].hairline(0.8) == pytest.approx(
        plain.hairline(0.8), abs=0.01
    )
    assert charts["recede"].hairline(0.5) < plain.hairline(0.5) - 0.05 and charts["recede"].hairline(0.0) == pytest.approx(
        plain.hairline(0.0), abs=0.03
    )
    bald = Chart(skull_of(solid(BERTA)), style_of(row(kind=2, recede=1.0)))
    assert bald.hairline(0.0) < 0.2 and bald.hairline(2.6) == pytest.approx(plain.hairline(2.6), abs=0.02)


def test_hair_hides_what_it_covers_and_the_skull_shows_on_demand() -> None:
    bald = scene(BERTA, plan_points(BERTA), Turn(yaw=20))
    long = worn(20, sides=1.6, back=1.6, fringe=1.0)

    def drawn_of(s: Scene, start: str) -> float:
        return float(sum(np.hypot(*np.diff(x.points, axis=0).T).sum() for x in s.drawing.strokes if x.name.startswith(start)))

    assert drawn_of(bald, "ear") > 0.4 and drawn_of(long, "ear") == 0
    assert drawn_of(long, "head") < 0.6 * drawn_of(bald, "head")
    assert drawn_of(long, "upper lid") > 0.8 * drawn_of(bald, "upper lid")
    drawn, skull = picture(long), picture(long, skull=True)
    assert not drawn.layer("skull").visible and skull.layer("skull").visible
    lines = skull.layer("skull").items
    assert lines and all(p.role is Ink.SKULL for p in lines)
    assert min(float(p.points[:, 1].min()) for p in lines if isinstance(p, Trace)) == pytest.approx(
        -0.5, abs=0.02
    )  # the bare crown
    choices = FeatureChoices().with_values("hair", {"kind": 1})
    without = scene(BERTA, plan_points(BERTA), Turn(yaw=20), Wear(choices=choices, hair=False))
    assert [x.points.tolist() for x in without.drawing.strokes] == [x.points.tolist() for x in bald.drawing.strokes]


@pytest.mark.parametrize("name", STYLES)
def test_everything_stays_on_its_sheet(name: str) -> None:
    x, y, w, h = BOX
    for yaw in (0, 60, 140, -90):
        for p in picture(worn(yaw, **STYLES[name])).paths():
            assert (p.points >= [x, y]).all() and (p.points <= [x + w, y + h]).all(), (yaw, p.name)


def random_values(rng: np.random.Generator) -> dict[str, float]:
    out = {}
    for p in feature("hair").parameters:
        v = float(rng.uniform(p.low, p.high))
        out[p.key] = float(round(v)) if p.options else v
    return out


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000), st.floats(-180, 180), st.floats(-60, 60))
def test_any_decisions_at_any_turn_can_be_drawn(seed: int, yaw: float, pitch: float) -> None:
    choices = FeatureChoices().with_values("hair", random_values(np.random.default_rng(seed)))
    s = scene(BERTA, plan_points(BERTA), Turn(yaw=yaw, pitch=pitch), Wear(choices=choices))
    for x in s.drawing.strokes:
        assert np.isfinite(x.points).all() and np.isfinite(x.widths).all() and (x.widths >= 0).all()
    every: list[Array] = [p for shapes in s.drawing.tones.values() for p in shapes]
    assert all(np.isfinite(p).all() and len(p) > 2 for p in every)


def test_a_dial_is_asked_only_where_it_matters() -> None:
    f = feature("hair")
    for p in f.parameters:
        assert set(p.when) <= {"kind", "tie"}, p.key
    asked = {kind: {p.key for p in f.parameters if p.asked(row(kind=kind))} for kind in range(6)}
    assert asked[0] == {"kind"} and "curl" in asked[4] and "curl" not in asked[1] and "fringe" in asked[1] and "tie" in asked[3]
    assert "high" not in {p.key for p in f.parameters if p.asked(row(kind=3, tie=2))}  # braids hang where they hang


def test_hair_of_the_fourth_format_is_said_in_todays_words() -> None:
    def migrated(**old: float) -> dict[str, float]:
        body: dict[str, Any] = {"characters": [{"features": {"values": {"hair": old}}}]}
        out: dict[str, float] = STEPS[4](body)["characters"][0]["features"]["values"]["hair"]
        FeatureChoices(values={"hair": out})
        return out

    assert migrated(kind=0, volume=0.1) == {}
    bob = migrated(kind=1, fringe=0.3, sides=1, back=0.45, volume=0.06, parting=-0.4)
    assert bob["kind"] == 1 and bob["sides"] == 1 and bob["back"] == 0.9 and bob["parting"] == pytest.approx(-0.275)
    assert migrated(kind=1, sides=0.2, swept=1.0)["kind"] == 2 and migrated(kind=1, volume=0.02, lift=0.012)["kind"] == 5
    broken = {"characters": [{"features": {"values": {"hair": {"kind": "much"}}}}, None, {"features": 3}]}
    assert STEPS[4](broken)["characters"][0]["features"]["values"]["hair"] == {"kind": "much"}  # left to the model to refuse


def test_the_hairs_readings_follow_the_drawn_hair() -> None:
    """Measured on the drawn head, hair stands as high and as wide as it was decided."""
    s = worn(0, lift=0.11, volume=0.09, sides=1.0, parted=1, parting=0.3)
    points = np.array([s.landmarks[n][0] for n in FRONT.names]) + [0, 0.5]
    reg = front_registry()
    read = measure_array(points)
    assert read[reg.index["hair_height_hh"]] == pytest.approx(0.11, abs=0.012)
    wide = read[reg.index["hair_width_hw"]] * BERTA["head_width_hh"] / 2 - BERTA["head_width_hh"] / 2
    assert wide == pytest.approx(0.09, abs=0.03) and read[reg.index["parting_offset_hw"]] > 0.1
    assert read[reg.index["hairline_station"]] == pytest.approx(BERTA["hairline_station"], abs=1e-9)


@pytest.mark.parametrize("yaw", [-150, -60, 0, 35, 90])
def test_a_head_that_moves_is_drawn_nearly_as_at_rest(yaw: float) -> None:
    b = worn(yaw, kind=1).body
    full, quick = (scene_of(b, Turn(yaw=yaw, pitch=8), None, moving).drawing for moving in (False, True))
    a, q = (sum(length(s.points) for s in d.strokes) for d in (full, quick))
    assert q == pytest.approx(a, rel=0.10)
    assert [n for n, _ in quick.fills] == [n for n, _ in full.fills]
    whole, rough = (unary_union([Polygon(p).buffer(0) for p in d.tones["hair"]]) for d in (full, quick))
    assert whole.symmetric_difference(rough).area < 0.07 * whole.area  # half a line
