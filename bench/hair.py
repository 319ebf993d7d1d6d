"""Every hairstyle on three people and three extreme plans at twenty-four turns, asked for faults."""

from __future__ import annotations

from orthomet.core.features.choices import FeatureChoices
from orthomet.core.head.body import Wear, body
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene_of
from orthomet.core.landmarks.turn import Turn
from tests.core.test_hair_sheet import HEADS, STYLES, TURNS, faults

from .timing import report


def run() -> None:
    wrong, tried = 0, 0
    for style in STYLES.values():
        for table in HEADS.values():
            worn = body(table, plan_points(table), Wear(choices=FeatureChoices().with_values("hair", style)))
            for yaw, pitch in TURNS:
                tried += 1
                wrong += bool(faults(scene_of(worn, Turn(yaw=yaw, pitch=pitch)).drawing))
    report("hair drawn open, stray, ending in the air or crossing itself", f"{wrong} of {tried}", "0", wrong == 0)
