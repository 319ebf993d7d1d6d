"""Starting the application: fonts, theme, window; heavy imports after the first paint."""

from __future__ import annotations

import logging
import os
import sys
import traceback
from collections.abc import Callable
from types import TracebackType
from typing import TYPE_CHECKING

from ..core.errors import OrthometError
from ..log import keep_log

if TYPE_CHECKING:
    from PySide6.QtWidgets import QApplication

    from .shell import Window

Hook = Callable[[type[BaseException], BaseException, TracebackType | None], None]


def display_problem() -> str:
    """Why no window can open here, or an empty string."""
    if os.environ.get("QT_QPA_PLATFORM") or sys.platform != "linux":
        return ""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        return (
            "There is no display to open a window on. Start it from a desktop session, or give it a virtual one: "
            "“xvfb-run -a orthomet demo” (Debian package xvfb). The commands measure, plan, guides and check work without."
        )
    return ""


def make_application() -> QApplication:
    from PySide6.QtGui import QIcon
    from PySide6.QtWidgets import QApplication

    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["orthomet"])
    app.setApplicationName("orthomet")
    app.setOrganizationName("orthomet")
    app.setApplicationDisplayName("Orthomet")
    app.setDesktopFileName("orthomet")
    from pathlib import Path

    app.setWindowIcon(QIcon(str(Path(__file__).with_name("orthomet.svg"))))
    app.setStyle("Fusion")
    from .theme.fonts import load_fonts

    load_fonts()
    _choose_theme(app)
    return app


def _choose_theme(app: QApplication) -> None:
    from PySide6.QtCore import QSettings, Qt

    from .theme.tokens import theme

    chosen = os.environ.get("ORTHOMET_THEME") or QSettings().value("theme", "")
    if not chosen:
        dark = app.styleHints().colorScheme() == Qt.ColorScheme.Dark
        chosen = "night" if dark else "day"
    theme.use(str(chosen))


def run(file: str | None, demo: bool = False) -> int:
    """Open the window and stay until it closes.

    Raises
    ------
    OrthometError
        No display, with how to get one.
    """
    problem = display_problem()
    if problem:
        raise OrthometError(problem)
    keep_log()
    app = make_application()
    from PySide6.QtCore import QTimer

    from .shell import Window

    window = Window()
    sys.excepthook = _tell(window)
    window.show()

    def after_first_paint() -> None:
        desk = window.furnish()
        if demo:
            desk.open_demo()
        elif file:
            desk.open_path(file)
        desk.offer_recovery()
        QTimer.singleShot(0, _warm_up)

    QTimer.singleShot(0, after_first_paint)
    return int(app.exec())


def _warm_up() -> None:
    """What the first drag would otherwise wait for."""
    import scipy.optimize  # noqa: F401


def _tell(window: Window) -> Hook:
    """An unexpected error is logged with its trace and told in a sentence; the work goes on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        traceback.print_exception(kind, error, trace)
        logging.getLogger("orthomet").error("unexpected", exc_info=(kind, error, trace))
        window.ledge.say("Something unexpected went wrong; your work is safe. The log has the details.", bad=True)

    return hook
