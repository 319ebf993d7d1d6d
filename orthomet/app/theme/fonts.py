"""The two families that ship (both under the SIL Open Font License): a drafting hand for titles, a plain one for text."""

from __future__ import annotations

import logging
from pathlib import Path

from PySide6.QtGui import QFontDatabase

FOLDER = Path(__file__).resolve().parent / "fonts"


def load_fonts() -> None:
    for path in sorted(FOLDER.glob("*.ttf")):
        if QFontDatabase.addApplicationFont(str(path)) < 0:
            logging.getLogger(__name__).warning("font not loaded: %s", path.name)
