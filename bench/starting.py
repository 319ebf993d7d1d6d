"""Window shown, against an empty PySide6 window in the same environment; whole processes, in turn."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile

import numpy as np

from .timing import alternating, report

EMPTY = """
import sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QMainWindow
a = QApplication(sys.argv); w = QMainWindow(); w.resize(1280, 800); w.show(); QTimer.singleShot(0, lambda: sys.stdout.flush() or __import__('os')._exit(0)); a.exec()
"""
OURS = """
import os
from orthomet.app.application import make_application
a = make_application()
from PySide6.QtCore import QTimer
from orthomet.app.shell import Window
w = Window(); w.show(); QTimer.singleShot(0, lambda: os._exit(0)); a.exec()
"""


FURNISHED = OURS.replace(
    "QTimer.singleShot(0, lambda: os._exit(0))", "QTimer.singleShot(0, lambda: (w.furnish(), w.repaint(), os._exit(0)))"
)


def run() -> None:
    with tempfile.TemporaryDirectory() as home:
        env = {**os.environ, "XDG_CONFIG_HOME": home, "XDG_STATE_HOME": home}

        def start(code: str) -> None:
            subprocess.run([sys.executable, "-c", code], env=env, check=True)

        full, bare = alternating(lambda: start(FURNISHED), lambda: start(EMPTY), 5)
        ours, empty = alternating(lambda: start(OURS), lambda: start(EMPTY), 9)
    ratio = float(np.median(ours / empty))
    report(
        "window shown, against an empty PySide6 window",
        f"{np.median(ours):.2f} s / {np.median(empty):.2f} s = {ratio:.2f}",
        "≤ 2.5",
        ratio <= 2.5,
    )
    report(
        "… all ready: the core, menus and the first station",
        f"{np.median(full):.2f} s = {float(np.median(full / bare)):.2f}, {np.median(full) - np.median(ours):.2f} s after the first paint",
        "≤ 1.0 s after it (≤ 6 × the empty window)",
        bool(np.median(full) - np.median(ours) <= min(1.0, 6 * np.median(empty))),
    )
