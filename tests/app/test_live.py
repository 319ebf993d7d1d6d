"""A file followed as paint programs save it, and the drawing that follows it in the real window."""

from __future__ import annotations

import io
import threading
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from orthomet.app.following import Follower, NotYet, being_written, read_whole, stamp
from orthomet.app.work import Work
from orthomet.core.errors import PictureError
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.project.edits import change_drawing
from orthomet.core.project.model import Marks
from tests.app.conftest import at, pick
from tests.edited import GROUPS, InTheMaking, similarity

# ---- the file


def encoded(k: int, fmt: str = "PNG", size: tuple[int, int] = (320, 240)) -> bytes:
    if fmt == "ORA":
        archive = io.BytesIO()
        with zipfile.ZipFile(archive, "w") as z:
            z.writestr("mergedimage.png", encoded(k, "PNG", size))
        return archive.getvalue()
    a = np.full((size[1], size[0], 3), 230, np.uint8)
    a[k % 200 : k % 200 + 20] = np.random.default_rng(k).integers(0, 255, (20, size[0], 3), dtype=np.uint8)[
        : max(0, size[1] - k % 200)
    ]
    held = io.BytesIO()
    Image.fromarray(a).save(held, fmt)
    return held.getvalue()


class Following:
    def __init__(self, path: Path, qtbot: Any):
        self.path, self.qtbot, self.work = path, qtbot, Work()
        self.got: list[bytes] = []
        self.notes: list[str] = []
        self.follower = Follower(str(path), self.work)
        self.follower.arrived.connect(lambda r: self.got.append(r.data))
        self.follower.noted.connect(self.notes.append)

    def until(self, data: bytes, ms: int = 5000) -> None:
        self.qtbot.waitUntil(lambda: bool(self.got) and self.got[-1] == data, timeout=ms)

    def end(self) -> None:
        self.follower.stop()
        self.work.let_go()


@pytest.fixture
def followed(tmp_path: Path, qtbot: Any) -> Any:
    path = tmp_path / "rough.png"
    path.write_bytes(encoded(0))
    f = Following(path, qtbot)
    f.until(encoded(0))
    yield f
    f.end()


def in_place(p: Path, data: bytes) -> None:
    p.write_bytes(data)


def over_the_old(p: Path, data: bytes) -> None:
    with p.open("r+b") as f:
        for i in range(0, len(data), len(data) // 3 + 1):
            f.write(data[i : i + len(data) // 3 + 1])
            f.flush()
            time.sleep(0.09)
        f.truncate()


def renamed_over(p: Path, data: bytes) -> None:
    other = p.with_suffix(".part")
    other.write_bytes(data)
    other.replace(p)


def deleted_first(p: Path, data: bytes) -> None:
    p.unlink()
    time.sleep(0.12)
    p.write_bytes(data)


def backed_up(p: Path, data: bytes) -> None:
    p.rename(p.with_suffix(".bak"))
    p.write_bytes(data)


def twenty_a_second(p: Path, data: bytes) -> None:
    for k in range(20):
        p.write_bytes(encoded(1000 + k))
        time.sleep(0.05)
    p.write_bytes(data)


@pytest.mark.parametrize("way", [in_place, over_the_old, renamed_over, deleted_first, backed_up, twenty_a_second])
def test_every_way_of_saving_arrives_whole(followed: Any, way: Callable[[Path, bytes], None]) -> None:
    data = encoded(7)
    t = threading.Thread(target=way, args=(followed.path, data))
    t.start()
    followed.until(data, 8000)
    t.join()
    known = {encoded(0), data, *(encoded(1000 + k) for k in range(20))}
    assert set(followed.got) <= known, "never half a picture"
    assert not followed.notes


@pytest.mark.parametrize(("fmt", "ending"), [("JPEG", ".jpg"), ("WEBP", ".webp"), ("TIFF", ".tif"), ("ORA", ".ora")])
def test_other_kinds_are_followed_too(tmp_path: Path, qtbot: Any, fmt: str, ending: str) -> None:
    path = tmp_path / f"x{ending}"
    path.write_bytes(encoded(1, fmt))
    f = Following(path, qtbot)
    kept = "PNG" if fmt == "ORA" else fmt
    f.until(encoded(1, kept))
    over_the_old(path, encoded(2, fmt, (400, 300)))
    f.until(encoded(2, kept, (400, 300)))
    f.end()


def test_what_is_cut_off_waits_and_what_is_gone_is_told(followed: Any, qtbot: Any) -> None:
    whole = encoded(3)
    followed.path.write_bytes(whole[: len(whole) // 2])
    QTest.qWait(400)
    assert len(followed.got) == 1
    followed.path.write_bytes(whole)
    followed.until(whole)
    followed.path.unlink()
    qtbot.waitUntil(lambda: followed.notes == ["The file is gone. It goes on when it is back."], timeout=6000)
    followed.path.write_bytes(encoded(4))
    followed.until(encoded(4), 6000)
    assert followed.notes[-1] == ""


def test_the_same_content_again_is_no_save(followed: Any) -> None:
    followed.path.write_bytes(encoded(0))
    QTest.qWait(500)
    assert len(followed.got) == 1


def test_what_is_no_picture_is_told_once(followed: Any, qtbot: Any) -> None:
    followed.path.write_bytes(b"\xff\xd8 no picture at all \xff\xd9")
    qtbot.waitUntil(lambda: bool(followed.notes), timeout=5000)
    assert "not a picture" in followed.notes[-1] and len(followed.got) == 1


def test_a_writer_is_seen_and_half_a_file_is_not_read(tmp_path: Path) -> None:
    path = tmp_path / "x.png"
    path.write_bytes(encoded(1))
    assert not being_written(str(path)) and not being_written(str(tmp_path / "none.png"))
    with path.open("r+b"):
        assert being_written(str(path))
    s = stamp(str(path))
    assert s is not None and read_whole(str(path), s).data == encoded(1)
    with pytest.raises(NotYet, match="changed"):
        read_whole(str(path), (0, 0, 0, 0))
    path.write_bytes(encoded(1)[:-8])
    with pytest.raises(NotYet, match="lacks"):
        read_whole(str(path), stamp(str(path)) or s)
    with pytest.raises(PictureError):
        read_whole(str(tmp_path), (0, 0, 0, 0))


# ---- the window


def page(seed: int, table: dict[str, float], **maps: Any) -> InTheMaking:
    d = InTheMaking(seed, (900, 850), table=table)
    d.maps |= maps
    return d


def save(d: InTheMaking, path: Path) -> None:
    Image.fromarray(d.render()).save(path)


def confirmed(d: InTheMaking) -> Marks:
    x = d.truth()
    return Marks(points={n: (float(x[i, 0]), float(x[i, 1])) for n, i in FRONT.index.items() if np.isfinite(x[i]).all()})


@pytest.fixture
def live(demo: Any, qtbot: Any, tmp_path: Path) -> Any:
    """The demo at Check, following a drawing of Berta whose mouth is too low, its points confirmed."""
    demo.desk.go_named("Check")
    s = demo.desk.station
    path = tmp_path / "ferry.png"
    d = page(21, dict(demo.desk.document.plan().table), mouth=similarity(shift=(0, 0.035)))
    save(d, path)
    s.follow_path(str(path))
    doc = demo.desk.document
    qtbot.waitUntil(lambda: doc.drawing.name == "ferry", timeout=6000)
    demo.desk.flush()
    doc.do("Points", change_drawing("berta", doc.drawing.id, marks=confirmed(d)))
    qtbot.waitUntil(lambda: s.live._trace is not None, timeout=8000)
    demo.desk.flush()
    s.made = d, path  # type: ignore[attr-defined]
    yield s
    s.live.stop()


def next_save(s: Any, qtbot: Any, d: InTheMaking) -> None:
    was = s.live.since
    save(d, s.made[1])
    qtbot.waitUntil(lambda: s.live.since is not None and s.live.since is not was, timeout=10000)


def test_three_clicks_lay_the_points_on_the_drawn_lines(demo: Any, qtbot: Any, tmp_path: Path) -> None:
    demo.desk.go_named("Check")
    s, doc = demo.desk.station, demo.desk.document
    d = page(22, dict(doc.plan().table), mouth=similarity(shift=(0, 0.035)))
    save(d, tmp_path / "rough.png")
    s.follow_path(str(tmp_path / "rough.png"))
    qtbot.waitUntil(
        lambda: doc.drawing.name == "rough" and s.stage.placing is not None and s.stage.image is not None, timeout=6000
    )
    x = d.truth()
    for n in ("vertex", "gnathion", "exocanthion_l"):
        QTest.mouseClick(s.stage, Qt.MouseButton.LeftButton, pos=at(s.stage.to_screen(*x[FRONT.index[n]])))
    qtbot.waitUntil(lambda: bool(doc.drawing.marks.spread), timeout=8000)
    m = doc.drawing.marks
    assert m.states["stomion"] is State.ESTIMATED and abs(m.points["stomion"][1] - x[FRONT.index["stomion"], 1]) < 0.012 * d.hh
    demo.desk.flush()
    assert "mouth_station" in [f.reading for f in s.stage.findings], "what is only estimated is judged within its spread"
    assert doc.undo_label == "Seed points"
    doc.undo()
    assert not doc.drawing.marks.points, "the clicks and the lines are one step"


def test_a_face_a_network_finds_is_refined_to_the_drawn_lines(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    s, doc = demo.desk.station, demo.desk.document
    c, was = doc.character, doc.drawing
    truth = was.marks.landmarks().array(FRONT)
    doc.do("Points", change_drawing(c.id, was.id, marks=Marks(view="front")))
    demo.desk.flush()
    qtbot.waitUntil(lambda: s.stage.image is not None, timeout=6000)
    QTest.keyClick(s.stage, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: "drawn lines" in demo.ledge.sentence, timeout=20000)
    m = doc.drawing.marks
    off = np.linalg.norm(m.landmarks().array(FRONT) - truth, axis=1) / (
        truth[FRONT.index["gnathion"], 1] - truth[FRONT.index["vertex"], 1]
    )
    assert np.nanmedian(off) < 0.012 and np.isfinite(off).sum() > 50
    assert set(m.spread) >= {"vertex", "gnathion", "stomion"} and set(m.states.values()) == {State.ESTIMATED}
    doc.undo()
    assert not doc.drawing.marks.points, "what the network found and the lines are one step"


def test_a_save_updates_the_findings_and_says_what_got_better(live: Any, qtbot: Any) -> None:
    doc = live.document
    assert [f.reading for f in live.stage.findings] == ["mouth_station"] and live.panel.live.isVisible()
    d = live.made[0].clone()
    d.maps["mouth"], d.version["mouth"] = similarity(shift=(0, 0.004)), 1
    d.fills.append(("skin", np.array((0.93, 0.78, 0.68)), 1.0))
    next_save(live, qtbot, d)
    row = next(r for r in live.live.since.rows if r.reading == "mouth_station")
    assert row.passes and row.before > 0.03 > abs(row.now)
    assert "1 better" in live.panel.live.state.text() and len(doc.drawing.log) == 1 and doc.drawing.log[0].why == "saved"
    assert len(doc.drawing.earlier) == 1 and doc.drawing.earlier[0].image.hash in doc.pictures
    truth = d.truth()
    for n in ("cheilion_l", "exocanthion_r", "gnathion"):
        x, y = doc.drawing.marks.points[n]
        assert np.hypot(x - truth[FRONT.index[n], 0], y - truth[FRONT.index[n], 1]) < 0.006 * d.hh
    worse = d.clone()
    worse.maps["brow_r"] = similarity(shift=(0, -0.035))
    worse.gone.add("nose")
    next_save(live, qtbot, worse)
    assert "Nose" in live.live.since.lost and any(r.course == "new" and "brow" in r.reading for r in live.live.since.rows)
    assert "Lost on this save: nose" in " ".join(w.text() for w in live.panel.live.rows if hasattr(w, "text"))
    pictures = set(doc.pictures)
    assert doc.undo_label == "Saves of ferry"
    doc.undo()
    assert doc.drawing.image.size == (900, 850) and not doc.drawing.log and doc.drawing.image.hash in pictures


def test_what_the_hand_does_meanwhile_is_not_lost(live: Any, qtbot: Any) -> None:
    """A save arrives while a ring is dragged: it waits, then carries the point from where it was put down."""
    doc, stage = live.document, live.stage
    qtbot.waitUntil(lambda: stage.image is not None, timeout=5000)
    start = stage.to_screen(*doc.drawing.marks.points["pronasale"])
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(start))
    QTest.mouseMove(stage, at(start + QPointF(12, 0)))
    assert doc.dragging
    d = live.made[0].clone()
    d.maps["mouth"] = similarity(shift=(0, 0.02))
    save(d, live.made[1])
    QTest.qWait(900)
    assert live.live.since is None and doc.dragging
    QTest.mouseMove(stage, at(start + QPointF(16, 0)))
    QTest.mouseRelease(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(start + QPointF(16, 0)))
    put_down = doc.drawing.marks.points["pronasale"]
    qtbot.waitUntil(lambda: live.live.since is not None, timeout=10000)
    x, y = doc.drawing.marks.points["pronasale"]
    assert abs(x - put_down[0]) < 3 and abs(y - put_down[1]) < 3 and [doc.redo_label] == [""]


def test_undo_in_the_middle_and_the_next_save(live: Any, qtbot: Any) -> None:
    doc = live.document
    d = live.made[0].clone()
    d.maps["mouth"] = similarity(shift=(0, 0.02))
    next_save(live, qtbot, d)
    doc.undo()
    again = d.clone()
    again.maps["mouth"] = similarity(shift=(0, 0.01))
    next_save(live, qtbot, again)
    y = doc.drawing.marks.points["stomion"][1]
    assert abs(y - again.truth()[FRONT.index["stomion"], 1]) < 0.006 * d.hh and doc.drawing.image.hash in doc.pictures


def test_a_file_of_another_size_another_drawing_and_none(live: Any, qtbot: Any, demo: Any) -> None:
    doc = live.document
    d = live.made[0].clone()
    small = d.clone()
    small.view, small.size = similarity(0.8)[:, :2] @ d.view, np.round(d.size * 0.8).astype(int)
    small.view[:, 2] = 0.8 * d.view[:, 2]
    next_save(live, qtbot, small)
    assert "smaller by 20 %" in live.live.since.words and doc.drawing.image.size == (720, 680)
    x, y = doc.drawing.marks.points["exocanthion_l"]
    assert (
        np.hypot(x - small.truth()[FRONT.index["exocanthion_l"], 0], y - small.truth()[FRONT.index["exocanthion_l"], 1])
        < 0.01 * small.hh
    )
    rng = np.random.default_rng(1)
    Image.fromarray(rng.integers(0, 255, (500, 700, 3), dtype=np.uint8)).save(live.made[1])
    was = live.live.since
    qtbot.waitUntil(lambda: live.live.since is not was, timeout=10000)
    assert doc.drawing.image.size == (700, 500) and not [
        n for n, s in doc.drawing.marks.states.items() if s is State.PLACED and n == "stomion"
    ]
    doc.choose_character("lorn")
    demo.desk.flush()
    assert "For another drawing" in live.panel.live.state.text()
    doc.choose_character("berta")
    pick(demo, "Remove this drawing") if doc.drawing.name == "ferry" else None
    qtbot.waitUntil(lambda: not live.live.name, timeout=3000)


def test_a_followed_drawing_is_saved_and_opened_again(live: Any, qtbot: Any, demo: Any, tmp_path: Path) -> None:
    d = live.made[0].clone()
    d.maps["mouth"] = similarity(shift=(0, 0.01))
    next_save(live, qtbot, d)
    where = tmp_path / "kept.orthomet"
    assert demo.desk.filing.begin(str(where))
    demo.desk.filing.wait()
    from orthomet.core.project.store import read

    stored = read(where)
    kept = stored.project.character("berta").drawings[-1]
    assert kept.name == "ferry" and kept.log and kept.earlier[0].image.hash in stored.pictures
    assert kept.marks == demo.desk.document.drawing.marks and GROUPS


def test_another_file_followed_meanwhile_does_not_get_the_old_ones_save(live: Any, qtbot: Any, tmp_path: Path) -> None:
    doc = live.document
    first = doc.drawing.id
    d = live.made[0].clone()
    d.maps["mouth"] = similarity(shift=(0, 0.01))
    other = page(33, dict(doc.plan().table))
    save(other, tmp_path / "second.png")
    save(d, live.made[1])
    qtbot.waitUntil(lambda: live.live._busy, timeout=5000)
    live.follow_path(str(tmp_path / "second.png"))
    qtbot.waitUntil(lambda: doc.drawing.name == "second", timeout=8000)
    QTest.qWait(1200)
    assert doc.drawing.image.hash != doc.character.drawing(first).image.hash
    assert np.array_equal(np.array(Image.open(io.BytesIO(doc.pictures[doc.drawing.image.hash]))), other.render())


def test_a_creature_is_followed_by_its_picture_alone(demo: Any, qtbot: Any, tmp_path: Path) -> None:
    doc = demo.desk.document
    doc.choose_character("klinker")
    demo.desk.go_named("Check")
    s = demo.desk.station
    path = tmp_path / "boiler.png"
    path.write_bytes(encoded(1, size=(400, 300)))
    s.follow_path(str(path))
    qtbot.waitUntil(lambda: doc.drawing is not None and doc.drawing.name == "boiler", timeout=6000)
    points = {"own_eye_a": (50.0, 60.0), "own_eye_b": (90.0, 60.0)}
    doc.do("Ends", change_drawing("klinker", doc.drawing.id, marks=Marks(points=points)))
    path.write_bytes(encoded(2, size=(500, 300)))
    qtbot.waitUntil(lambda: doc.drawing.image.size == (500, 300), timeout=6000)
    assert doc.drawing.marks.points == points and doc.drawing.marks.estimated
    s.live.stop()


def test_without_a_character_there_is_nothing_to_follow_for(window: Any, qtbot: Any, tmp_path: Path) -> None:
    from orthomet.app.document import Document
    from orthomet.app.stage.images import ImageStore
    from orthomet.app.stations.check.live import LiveDesk

    doc = Document(keep_journal=False)
    desk = LiveDesk(doc, ImageStore(doc))
    said: list[tuple[str, bool]] = []
    desk.said.connect(lambda *a: said.append(a))
    desk.follow(str(tmp_path / "none.png"))
    assert said and said[0][1] and not desk.name
    desk.let_go()
