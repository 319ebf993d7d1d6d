"""Hair lies outside the skull, ends where it is told to, and hides what it covers; the skull comes back on demand."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.table import feature
from orthomet.core.head.body import Wear
from orthomet.core.head.drawn import picture
from orthomet.core.head.hair import AXIS, hair_of
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import Scene, scene
from orthomet.core.head.solid import solid
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink
from orthomet.demo.cast import BERTA, WICK

STYLES = {v.name: v.set for v in feature("hair").variants if v.name != "skull only"}


def worn(yaw: float = 0, **hair: float) -> Scene:
    choices = FeatureChoices().with_values("hair", {"kind": 1, **hair})
    return scene(BERTA, plan_points(BERTA), Turn(yaw=yaw), Wear(choices=choices))


@pytest.mark.parametrize("name", STYLES)
@pytest.mark.parametrize("table", [BERTA, WICK])
def test_the_mass_lies_outside_the_skull(name: str, table: dict[str, float]) -> None:
    head = solid(table)
    hair = hair_of(head, FeatureChoices().with_values("hair", STYLES[name]).of("hair"))
    points, normals = hair.grid
    assert np.isfinite(points).all() and points[..., 1].min() < 0
    az = np.linspace(-np.pi, np.pi, 37)
    for t in (0.02, 0.1, 0.25, 0.4):
        p = head.around(az, np.full_like(az, t), detail=False)
        angle, r = np.arctan2(p[:, 0], p[:, 2] - AXIS), np.hypot(p[:, 0], p[:, 2] - AXIS)
        assert (hair.radius(np.full_like(angle, t), angle) > r).all()
    np.testing.assert_allclose(np.linalg.norm(normals, axis=-1), 1, atol=1e-6)


def test_fringe_sides_and_back_end_where_they_are_told() -> None:
    def ends(azimuth: float, **hair: float) -> float:
        h = hair_of(solid(BERTA), FeatureChoices().with_values("hair", {"kind": 1, **hair}).of("hair"))
        return float(np.interp(azimuth, np.linspace(-np.pi, np.pi, len(h.edge)), h.edge))

    line, brow, jaw = BERTA["hairline_station"], BERTA["brow_station"], BERTA["mouth_station"]
    assert ends(0, fringe=0.0) == pytest.approx(line, abs=0.02)
    assert ends(0.25, fringe=1.0, parting=-0.8) == pytest.approx(brow, abs=0.06)
    assert ends(1.3, sides=0.0) < BERTA["ear_bottom_station"] and ends(1.3, sides=1.0) == pytest.approx(jaw, abs=0.08)
    assert ends(1.3, sides=2.0) > 1.05 and ends(3.0, back=1.0) > 1.1 and ends(3.0, back=0.0) < 0.85
    higher = hair_of(solid(BERTA), FeatureChoices().with_values("hair", {"kind": 1, "lift": 0.2}).of("hair"))
    assert higher.grid[0][..., 1].min() == pytest.approx(-0.2, abs=0.01)


def test_hair_hides_what_it_covers_and_the_skull_shows_on_demand() -> None:
    bald = scene(BERTA, plan_points(BERTA), Turn(yaw=20))
    long = worn(20, sides=1.6, back=1.0, fringe=0.9)
    assert bald.ears and not long.ears
    assert sum(c.visible.sum() for c in long.contour) < 0.8 * sum(c.visible.sum() for c in bald.contour)
    brows = {p.name: c.visible.mean() for p, c in long.features if p.name.startswith("brow")}
    eyes = {p.name: c.visible.mean() for p, c in long.features if p.name.startswith("upper lid")}
    assert min(eyes.values()) > 0.8 and max(brows.values()) > 0
    drawn, skull = picture(long), picture(long, skull=True)
    assert not drawn.layer("skull").visible and skull.layer("skull").visible
    assert all(p.role is Ink.SKULL for p in skull.layer("skull").items) and skull.layer("skull").items  # type: ignore[union-attr]
    without = scene(
        BERTA, plan_points(BERTA), Turn(yaw=20), Wear(choices=FeatureChoices().with_values("hair", {"kind": 1}), hair=False)
    )
    assert without.hair == () and [c.points.tolist() for c in without.contour] == [c.points.tolist() for c in bald.contour]


@pytest.mark.parametrize("name", STYLES)
@pytest.mark.parametrize("yaw", [0, 40, 90, 140, 180])
def test_no_crumbs_and_nothing_out_of_the_sheet(name: str, yaw: float) -> None:
    s = worn(yaw, **STYLES[name])
    drawn = picture(s)
    lengths = [np.linalg.norm(np.diff(p.points, axis=0), axis=1) for p in drawn.layer("hair").items]  # type: ignore[union-attr]
    assert lengths and min(x.sum() for x in lengths) > 0.012
    assert max(x.max() for x in lengths) < 0.15  # no chord across the drawing
    locks = [c.name for _, c in s.hair if c.name.startswith("lock")]
    assert len(locks) == 2 * round(FeatureChoices().with_values("hair", STYLES[name]).of("hair")["locks"])
