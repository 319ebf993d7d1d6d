"""The window with the demo project, open at a station."""

from __future__ import annotations

from orthomet.app.shell import Window


def demo(station: str = "", page: int = 0) -> Window:
    """A window of the usual size; without a station's name the one it opens at."""
    window = Window()
    desk = window.furnish(keep_journal=False)
    window.resize(1280, 800)
    window.show()
    desk.open_demo()
    desk.flush()
    if station:
        desk.go_named(station)
        desk.station.switch.show_page(page)
        desk.flush()
    return window
