"""The real window with the demo in it, driven offscreen."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget


@pytest.fixture(autouse=True)
def _no_waiting_dialogs(monkeypatch: pytest.MonkeyPatch) -> None:
    """A dialog nobody answers would wait for ever: it fails the test instead."""
    from PySide6.QtWidgets import QDialog, QFileDialog, QInputDialog

    def asked(*_: object, **__: object) -> None:
        raise AssertionError("a dialog opened that the test did not expect")

    monkeypatch.setattr(QDialog, "exec", asked)
    for name in ("getText", "getDouble"):
        monkeypatch.setattr(QInputDialog, name, asked)
    for name in ("getOpenFileName", "getOpenFileNames", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, asked)


@pytest.fixture
def window(qtbot: object, qapp: object, monkeypatch: pytest.MonkeyPatch) -> Iterator[object]:
    from orthomet.app.shell import Window
    from orthomet.app.theme.tokens import theme

    theme.use("day")
    QSettings().clear()
    w = Window()
    desk = w.furnish()
    monkeypatch.setattr(desk, "may_leave", lambda: True)
    w.show()
    yield w
    w.close()
    w.deleteLater()


@pytest.fixture
def demo(window: object, qtbot: object) -> object:
    window.desk.open_demo()  # type: ignore[attr-defined]
    ref = window.desk.document.character.reference  # type: ignore[attr-defined]
    qtbot.waitUntil(lambda: window.desk.images.get(ref.image.hash) is not None, timeout=5000)  # type: ignore[attr-defined]
    window.desk.flush()  # type: ignore[attr-defined]
    QTest.qWait(30)
    return window


@pytest.fixture
def station(demo: object) -> Callable[[str], object]:
    """Opens a station of the demo's window by its name, and gives it."""
    return lambda name: open_station(demo, name)


def open_station(window: object, name: str) -> object:
    desk = window.desk  # type: ignore[attr-defined]
    desk.go_named(name)
    desk.flush()
    return desk.station


def pick(window: object, words: str) -> None:
    """Pick an entry of the menus by its words, as a person would: one that is greyed cannot be picked."""
    menus = [a.menu() for a in window.shelf.menu.actions() if a.menu() is not None]  # type: ignore[attr-defined]
    found = [a for m in menus for a in m.actions() if a.text().startswith(words)]
    assert len(found) == 1 and found[0].isEnabled(), (words, [a.text() for m in menus for a in m.actions()])
    found[0].trigger()


def pixels(w: QWidget) -> bytes:
    """What a widget shows, as bytes (the image is kept alive while they are copied)."""
    image = w.grab().toImage()
    return bytes(image.constBits())


def at(p: QPointF) -> QPoint:
    return QPoint(round(p.x()), round(p.y()))


def drag(w: QWidget, a: QPointF, b: QPointF, during: Callable[[], None] | None = None, steps: int = 4) -> None:
    """Press at ``a``, move to ``b`` in steps, call ``during`` while the button is still down, release."""
    QTest.mousePress(w, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(a))
    for k in range(1, steps + 1):
        QTest.mouseMove(w, at(a + (b - a) * k / steps))
        QTest.qWait(5)
    if during:
        during()
    QTest.mouseRelease(w, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(b))
    QTest.qWait(5)


def picture_file(folder: Path, name: str = "face.png", size: tuple[int, int] = (300, 360)) -> str:
    """A picture this project did not paint: a few discs on a ground."""
    from PIL import Image, ImageDraw

    im = Image.new("RGB", size, (180, 170, 160))
    d = ImageDraw.Draw(im)
    d.ellipse((60, 40, 240, 320), fill=(230, 200, 180))
    for x in (110, 190):
        d.ellipse((x - 18, 165, x + 18, 185), fill=(60, 50, 50))
    path = folder / name
    im.save(path)
    return str(path)
