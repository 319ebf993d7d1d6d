"""Pictures of every main view from the demo, into docs/screenshots: ``make shots``."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.mkdtemp()
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"):
    os.environ[_name] = _home

from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QApplication

from orthomet.app.application import make_application
from orthomet.app.desk import Desk
from orthomet.app.looks import screen_looks
from orthomet.app.render import paint
from orthomet.app.theme.paint import CENTRE, text
from orthomet.app.theme.tokens import theme
from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import canon, named
from orthomet.core.figure.scene import Figure
from orthomet.core.figure.scene import picture as figure_picture
from orthomet.core.landmarks.turn import Turn
from orthomet.core.people import head_of_canon, person, person_of_style
from orthomet.core.pose.library import poses
from orthomet.core.project.edits import set_figure
from orthomet.core.styles.library import styles

ROOT = Path(__file__).resolve().parent.parent
OUT = ROOT / "docs" / "screenshots"
sys.path.insert(0, str(ROOT))  # the extreme heads are the tests’ own


def wait(ms: int) -> None:
    """Let things happen, threads too."""
    end = time.monotonic() + ms / 1000
    while time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.004)


def hair_sheet() -> None:
    """Every hairstyle on the three people and on three plans at the edge of what can be drawn, each at another turn."""
    from orthomet.core.features.table import feature
    from orthomet.core.head.body import Wear, body
    from orthomet.core.head.drawn import picture
    from orthomet.core.head.points import plan_points
    from orthomet.core.head.scene import scene_of
    from orthomet.demo.cast import BERTA, BERTA_FEATURES, LORN, LORN_FEATURES, WICK, WICK_FEATURES
    from tests.extremes import EYES, LONG, SQUAT

    people = (
        (BERTA, BERTA_FEATURES, Turn()), (LORN, LORN_FEATURES, Turn(yaw=35)), (WICK, WICK_FEATURES, Turn(yaw=90)),
        (SQUAT, BERTA_FEATURES, Turn(yaw=-145)), (LONG, LORN_FEATURES, Turn(yaw=-30, pitch=25)), (EYES, WICK_FEATURES, Turn(yaw=25, pitch=-20)),
    )  # fmt: skip
    hair = [v for v in feature("hair").variants if v.set]
    wide, tall, head = 156, 178, 106.0
    rows = -(-len(hair) // 2)
    image = QImage(12 * wide, rows * tall, QImage.Format.Format_RGB32)
    image.fill(theme.t.c("sheet"))
    p = QPainter(image)
    for n, style in enumerate(hair):
        for k, (table, choices, turn) in enumerate(people):
            worn = body(table, plan_points(table), Wear(choices=choices.with_values("hair", style.set)))
            x, y = (6 * (n % 2) + k) * wide, n // 2 * tall
            p.save()
            p.setClipRect(x, y, wide, tall)
            p.translate(x + wide / 2, y + tall * 0.47)
            paint(p, picture(scene_of(worn, turn), guides=False, hidden=False), head, screen_looks(theme.t), 1.0)
            p.restore()
    p.end()
    image.save(str(OUT / "hair-sheet.png"))


def canon_sheet() -> None:
    """Every canon from four sides on the head that belongs on it, and under them the built-in styles as whole people."""
    rows: list[list[tuple[str, Figure, float]]] = []
    people = [(named()[n].title, _canon(n)) for n in named()] + [
        ("1 year" if a == 1 else f"{a} years", _canon(f"age:{a}")) for a in (1, 5, 10, 15)
    ]
    half = (len(people) + 1) // 2
    for part in (people[:half], people[half:]):
        for pair in ((0.0, 35.0), (90.0, 180.0)):
            rows.append([(words, f, yaw) for words, f in part for yaw in pair])
    rows.append([(s.title, person_of_style(s), yaw) for s in styles().values() for yaw in (0.0, 35.0)])
    px, across = 23.0, 66
    tallest = [max(f.build.heads for _, f, _ in row) for row in rows]
    height = sum(round((t + 0.9) * px) + 16 for t in tallest) + 10
    image = QImage(2 * across * max(len(r) for r in rows) // 2 + 20, height, QImage.Format.Format_RGB32)
    image.fill(theme.t.c("sheet"))
    p = QPainter(image)
    y = 8.0
    for row, tall in zip(rows, tallest, strict=True):
        floor = y + (tall + 0.55) * px
        for k, (words, f, yaw) in enumerate(row):
            p.save()
            p.translate(10 + (k + 0.5) * across, floor - f.build.heads * px)
            paint(p, figure_picture(f, Turn(yaw=yaw), guides=False).without("ladder"), px, screen_looks(theme.t), 0.45)
            p.restore()
            if k % 2 == 0:
                text(p, (10 + k * across, floor + 4, 2 * across, 14), words, "small", theme.t.c("soft"), CENTRE)
        y = floor + 0.35 * px + 16
    p.end()
    image.save(str(OUT / "canon-sheet.png"))


def _canon(name: str) -> Figure:
    c = canon(name)
    return person(build_of(c.readings, c.form, c.limbs), head_of_canon(c), school=c.school)


def followed_drawing(desk: Desk, wait: Callable[[int], None]) -> None:
    """A drawing of our own making that is followed over two saves: its mouth came nearer, a brow went off, colour came under it."""
    from PIL import Image

    from orthomet.core.landmarks.schema import FRONT
    from orthomet.core.project.edits import change_drawing
    from orthomet.core.project.model import Marks
    from tests.edited import InTheMaking, similarity

    station, path = desk.station, Path(tempfile.mkdtemp()) / "wheelhouse.png"
    d = InTheMaking(21, (1500, 1400), table=dict(desk.document.plan().table))
    d.maps["mouth"] = similarity(shift=(0, 0.034))

    def save(d: InTheMaking) -> None:
        was = station.live.since
        Image.fromarray(d.render()).save(path)
        for _ in range(200):
            wait(50)
            if station.live.since is not was or (
                was is None and desk.document.drawing.name == "wheelhouse" and not desk.document.drawing.marks.points
            ):
                return

    Image.fromarray(d.render()).save(path)
    station.follow_path(str(path))
    for _ in range(100):
        wait(50)
        if desk.document.drawing.name == "wheelhouse":
            break
    x = d.truth()
    points = {n: (float(x[i, 0]), float(x[i, 1])) for n, i in FRONT.index.items() if x[i, 0] == x[i, 0]}
    desk.document.do("Points", change_drawing("berta", desk.document.drawing.id, marks=Marks(points=points)))
    wait(1500)
    d = d.clone()
    d.maps["mouth"], d.version["mouth"] = similarity(shift=(0, 0.024)), 1
    save(d)
    wait(1200)
    d = d.clone()
    d.maps["mouth"], d.version["mouth"] = similarity(shift=(0, 0.006)), 2
    d.maps["brow_r"] = similarity(shift=(0.0, -0.03))
    d.fills.append(("skin", np.array((0.93, 0.79, 0.69)), 1.0))
    save(d)
    wait(1500)


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
        strip = getattr(desk.station, "strip", None) if desk.station.name == "Head" else None
        if desk.station.name == "Shapes":
            return bool(desk.station.settled and desk.station.strip.complete and not opening)
        if desk.station.name == "Figure":
            return (
                desk.figures.settled
                and desk.station.settled
                and desk.station.strip.complete
                and not desk.station.curer.work.active
                and not desk.station.posing.tester.work.active
            )
        return not (opening or desk.work.active) and (strip is None or strip.complete)

    def take(name: str) -> None:
        wait(250)
        for _ in range(600):
            if settled():
                break
            wait(100)
        else:
            raise SystemExit(f"{name}: still at work after a minute")
        wait(100)
        window.grab().save(str(OUT / f"{name}.png"))

    hair_sheet()
    canon_sheet()
    desk.open_demo()
    wait(900)
    reference = desk.stations.named("Reference")
    reference.stage.active = "exocanthion_l"
    reference.list.rows["eye_gap_ew"].hovered.emit("eye_gap_ew", True)
    take("reference")
    reference.list.rows["eye_gap_ew"].hovered.emit("eye_gap_ew", False)
    reference.stage.active = ""
    desk.document.choose_character("lorn")
    wait(600)
    reference.which.activated.emit(1)
    desk.flush()
    wait(600)
    reference.list.rows["thigh_hh"].hovered.emit("thigh_hh", True)
    reference.list.rows["thigh_hh"].hovered.emit("thigh_hh", False)
    reference.which.activated.emit(0)
    desk.document.choose_character("berta")
    desk.go_named("Styles")
    board = desk.station
    board.show_style("study:lamp-room")
    wait(1500)
    board.list.rows["eye_width_fw"].hovered.emit("eye_width_fw", True)
    take("styles")
    board.list.rows["eye_width_fw"].hovered.emit("eye_width_fw", False)
    board.pages.show_page(1)
    wait(1500)
    take("styles-hand")
    board.pages.show_page(0)
    desk.document.choose_character("wick")
    wait(600)
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
    desk.go_named("Head")
    head = desk.station
    head.switch.show_page(2)
    head.features.feature_chosen.emit("hair")
    take("head")
    head.page.hair.setChecked(False)
    head.guides.school_chosen.emit("circle-and-cross")
    head.switch.show_page(1)
    head.guides.player.mode.show_choice(1)
    head.guides.player.list.setCurrentRow(5)
    head.look_from(Turn(yaw=28, pitch=14))
    take("head-guides")
    head.guides.school_chosen.emit("")
    head.page.hair.setChecked(True)
    head.look_from(Turn(yaw=35))
    desk.document.choose_character("lorn")
    desk.go_named("Figure")
    take("figure")
    desk.station.posing.edits.take(poses()["weight on one leg"])
    for need in ("reach a shelf at 9 heads", "cross arms", "look over a rail at 8.2 heads"):
        desk.station.posing.edits.need(need)
    desk.station.switch.show_page(4)
    take("figure-pose")
    desk.station.switch.show_page(0)
    for _ in range(4):
        desk.document.undo()
    desk.document.choose_character("wick")
    desk.document.do("Canon", set_figure("wick", lambda f: f.model_copy(update={"canon": "measured"})))
    desk.station.switch.show_page(2)
    desk.flush()
    take("figure-match")
    desk.document.undo()
    desk.document.choose_character("klinker")
    desk.go_named("Shapes")
    shapes = desk.station
    shapes.holding.click()
    take("shapes")
    shapes.holding.click()
    desk.document.choose_character("wick")
    desk.document.choose_character("berta")
    desk.go_named("Check")
    wait(600)
    take("check")
    followed_drawing(desk, wait)
    take("check-live")
    desk.station.live.stop()
    desk.document.undo()
    desk.document.choose_drawing("young-8")
    desk.flush()
    desk.station.whole_set.click()
    take("check-set")
    desk.station.whole_set.click()
    desk.go_named("Sheet")
    take("sheet")
    theme.use("night")
    desk.go_named("Shapes")
    shapes.switch.show_page(1)
    desk.document.begin("Push")
    shapes.edits.all_push(1.4)
    desk.document.commit()
    shapes.refresh()
    take("shapes-night")
    desk.document.undo()
    shapes.switch.show_page(0)
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
