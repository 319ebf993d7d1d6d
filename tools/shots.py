"""Pictures of every main view from the demo, into docs/screenshots: ``make shots``."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.mkdtemp()
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"):
    os.environ[_name] = _home

from PySide6.QtTest import QTest

from orthomet.app.application import make_application
from orthomet.app.theme.tokens import theme
from orthomet.core.landmarks.turn import Turn

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def main() -> int:
    OUT.mkdir(parents=True, exist_ok=True)
    make_application()
    from orthomet.app.shell import Window

    theme.use("day")
    window = Window()
    desk = window.furnish(keep_journal=False)
    window.resize(1280, 800)
    window.show()

    def settled() -> bool:
        """No picture is still being opened and no work is under way."""
        stage = getattr(desk.station, "stage", None)
        opening = getattr(stage, "size_px", None) is not None and getattr(stage, "image", None) is None
        return not (opening or desk.work.active)

    def take(name: str) -> None:
        QTest.qWait(250)
        for _ in range(100):
            if settled():
                break
            QTest.qWait(100)
        QTest.qWait(100)
        window.grab().save(str(OUT / f"{name}.png"))

    take("empty")
    desk.open_demo()
    QTest.qWait(900)
    reference = desk.stations.named("Reference")
    reference.stage.active = "exocanthion_l"
    reference.list.rows["eye_gap_ew"].hovered.emit("eye_gap_ew", True)
    take("reference")
    reference.list.rows["eye_gap_ew"].hovered.emit("eye_gap_ew", False)
    reference.stage.active = ""
    reference.which.activated.emit(1)
    desk.flush()
    QTest.qWait(600)
    reference.list.rows["nose_depth_hh"].hovered.emit("nose_depth_hh", True)
    take("reference-profile")
    reference.which.activated.emit(0)
    reference.panel.pages.show_page(1)
    desk.flush()
    take("reference-picture")
    reference.panel.pages.show_page(0)
    desk.document.choose_character("klinker")
    desk.flush()
    QTest.qWait(600)
    reference.list.rows["own_funnel"].hovered.emit("own_funnel", True)
    take("reference-creature")
    reference.list.rows["own_funnel"].hovered.emit("own_funnel", False)
    desk.document.choose_character("lorn")
    QTest.qWait(600)
    reference.find_face.click()
    take("reference-estimated")
    desk.document.undo()
    desk.ledge.say("")
    reference.which.activated.emit(1)
    desk.flush()
    QTest.qWait(600)
    reference.list.rows["thigh_hh"].hovered.emit("thigh_hh", True)
    take("reference-figure")
    reference.list.rows["thigh_hh"].hovered.emit("thigh_hh", False)
    reference.which.activated.emit(0)
    desk.document.choose_character("berta")
    desk.go_named("Styles")
    styles = desk.station
    styles.show_style("study:lamp-room")
    QTest.qWait(1500)
    styles.list.rows["eye_width_fw"].hovered.emit("eye_width_fw", True)
    take("styles")
    styles.list.rows["eye_width_fw"].hovered.emit("eye_width_fw", False)
    styles.samples.open("sketch-3")
    take("styles-sample")
    styles.samples.close()
    styles.pages.show_page(1)
    QTest.qWait(1500)
    take("styles-hand")
    styles.pages.show_page(0)
    desk.document.choose_character("wick")
    QTest.qWait(600)
    desk.go_named("Plan")
    desk.station.versions.compare.click()
    take("plan-versions")
    desk.station.versions.compare.click()
    desk.document.choose_character("berta")
    desk.flush()
    desk.go_named("Plan")
    row = desk.station.list.rows["nose_length_hh"]
    row.set_open(True)
    row.hovered.emit("nose_length_hh", True)
    take("plan")
    row.hovered.emit("nose_length_hh", False)
    row.set_open(False)
    desk.station.see_moved.click()
    take("plan-moved")
    desk.station.see_moved.click()
    desk.go_named("Head")
    head = desk.station
    head.switch.show_page(2)
    take("head")
    head.page.hair.setChecked(False)
    head.guides.school_chosen.emit("circle-and-cross")
    head.switch.show_page(1)
    head.guides.mode.show_choice(1)
    head.guides.list.setCurrentRow(5)
    head.look_from(Turn(yaw=28, pitch=14))
    take("head-guides")
    head.guides.school_chosen.emit("")
    head.page.hair.setChecked(True)
    head.look_from(Turn(yaw=35))
    desk.go_named("Check")
    QTest.qWait(600)
    take("check")
    desk.go_named("Sheet")
    take("sheet")
    theme.use("night")
    desk.go_named("Reference")
    take("reference-night")
    desk.document.choose_character("wick")
    desk.go_named("Head")
    head.switch.show_page(3)
    head.strip.chosen.emit("glad")
    head.light.on.setChecked(True)
    take("head-night")
    theme.use("day")
    window.hide()
    return 0


if __name__ == "__main__":
    sys.exit(main())
