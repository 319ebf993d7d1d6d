"""The real window on a real (virtual) X server, as a newcomer starts it."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = """
import os, sys, traceback
from PySide6.QtCore import QPoint, QTimer, Qt
from PySide6.QtTest import QTest
from orthomet.app import application, shell
made = []
class Window(shell.Window):
    def __init__(self):
        super().__init__()
        made.append(self)
        QTimer.singleShot(300, look)
shell.Window = Window
def look():
    try:
        visit(made[0])
    except BaseException:
        traceback.print_exc()
        os._exit(3)
def visit(w):
    if w.desk is None or w.desk.stations.named("Reference").stage.image is None:
        QTimer.singleShot(100, look)
        return
    for k in range(6):
        QTest.mouseClick(w.rail, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(50, 22 + 62 * k))
        QTest.qWait(150)
        assert w.stack.currentIndex() == k, (k, w.stack.currentIndex())
    w.grab().save(sys.argv[1])
    w.desk.may_leave = lambda: True
    w.close()
sys.exit(application.run(None, demo=True))
"""


@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is installed by tools/setup.sh dev")
def test_the_window_opens_and_all_stations_answer(tmp_path: Path) -> None:
    script, out = tmp_path / "run.py", tmp_path / "shot.png"
    script.write_text(SCRIPT)
    read_end, write_end = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
        pass_fds=[write_end],
        stderr=subprocess.DEVNULL,
    )
    os.close(write_end)
    try:
        display = os.read(read_end, 16).decode().strip()
        env = {
            **os.environ,
            "DISPLAY": f":{display}",
            "QT_QPA_PLATFORM": "xcb",
            "XDG_STATE_HOME": str(tmp_path),
            "XDG_CONFIG_HOME": str(tmp_path),
        }
        p = subprocess.run([sys.executable, str(script), str(out)], env=env, capture_output=True, text=True, timeout=90)
        assert p.returncode == 0, p.stderr
        assert out.stat().st_size > 50_000
    finally:
        server.terminate()
        server.wait()
        os.close(read_end)


KILLED = """
import os, signal
from PySide6.QtTest import QTest
from orthomet.app.application import make_application
app = make_application()
from orthomet.app.shell import Window
w = Window()
desk = w.furnish()
w.show()
desk.open_demo()
from orthomet.core.project.edits import rename_project
desk.document.do("Rename", rename_project("Was in the hand"))
for _ in range(200):
    if (desk.document.journal.folder / "state.json").exists():
        break
    QTest.qWait(50)
os.kill(os.getpid(), signal.SIGKILL)
"""


def test_a_killed_window_leaves_its_work_to_the_next(tmp_path: Path) -> None:
    from orthomet.core.project.journal import recoverable

    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": str(tmp_path), "XDG_CONFIG_HOME": str(tmp_path)}
    p = subprocess.run([sys.executable, "-c", KILLED], env=env, capture_output=True, text=True, timeout=90)
    assert p.returncode == -9, p.stderr
    (kept,) = recoverable(tmp_path / "orthomet" / "journal")
    assert kept.stored.project.title == "Was in the hand" and set(kept.stored.project.images()) == set(kept.stored.pictures)
