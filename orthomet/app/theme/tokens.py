"""Design tokens: colours for day and night, type, measures. Colour has meaning only.

``ref`` graphite is the reference, ``plan`` pencil blue the plan, ``draw`` vermilion the drawing, ``look`` ochre "look here";
everything else is paper, board and ink. Shapes carry the same meaning, so colour is never alone.
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QObject, QSettings, Signal
from PySide6.QtGui import QColor, QFont


@dataclass(frozen=True)
class Palette:
    name: str
    board: str  # the table top under the sheets
    ledge: str  # rail, cast shelf, bottom ledge
    paper: str  # panels
    sheet: str  # a drawing sheet
    field: str  # text fields, wells
    rule: str  # hairlines
    rule_strong: str  # control outlines, ticks
    ink: str
    soft: str  # text, second
    ref: str
    plan: str
    plan_guide: str  # the same pencil, lighter hand
    plan_ink: str  # the plan drawn with a brush
    plan_wash: str
    tone_hair: str
    tone_inside: str
    tone_skin: str
    tone_wear: str
    tone_suit: str
    tone_shade: str
    tone_pupil: str
    tone_light: str  # a highlight: light by day and by night
    draw: str
    draw_wash: str
    look: str  # ochre as text or thin stroke
    look_fill: str
    look_wash: str
    on_look: str
    band: str  # norm, one spread
    band_wide: str  # norm, two spreads
    scan_dim: float  # how much a white scan is held back at night

    def c(self, name: str, alpha: float = 1.0) -> QColor:
        return _colour(getattr(self, name), alpha)


@lru_cache(maxsize=512)
def _colour(value: str, alpha: float) -> QColor:
    q = QColor(value)
    q.setAlphaF(alpha)
    return q


DAY = Palette(
    "day", board="#D0D7CC", ledge="#E1E6DB", paper="#F7F7F2", sheet="#FCFBF7", field="#FFFFFF", rule="#D3D8CD",
    rule_strong="#858E86", ink="#22272A", soft="#535B57", ref="#343A3E", plan="#1C5DAF", plan_guide="#86AEDD",
    plan_ink="#1D3B66", plan_wash="#E2EBF6", tone_hair="#DFE7F2", tone_inside="#BFCCDF", tone_skin="#FCFBF7",
    tone_wear="#E9E2D0", tone_suit="#DDE4DA", tone_shade="#2A3A5C", tone_pupil="#1D3B66", tone_light="#FFFFFF", draw="#C23318", draw_wash="#F7E3DC", look="#8A5800", look_fill="#E3A11B", look_wash="#F8ECCB",
    on_look="#22272A", band="#C3CAC0", band_wide="#DFE3DA", scan_dim=0.0,
)  # fmt: skip
NIGHT = Palette(
    "night", board="#151918", ledge="#1D2221", paper="#242A28", sheet="#2A312F", field="#1A1F1D", rule="#39413E",
    rule_strong="#7C8781", ink="#EEECE3", soft="#B4BAB1", ref="#E3E0D6", plan="#83B7F7", plan_guide="#5F8CC4",
    plan_ink="#C4DCF8", plan_wash="#25364A", tone_hair="#3B4858", tone_inside="#2B3644", tone_skin="#2A312F",
    tone_wear="#46443A", tone_suit="#35403A", tone_shade="#05080A", tone_pupil="#0E151C", tone_light="#F4F7FA", draw="#FF8464", draw_wash="#47291F", look="#F2BE52", look_fill="#E3A11B", look_wash="#40371F",
    on_look="#1B1F1E", band="#4C5652", band_wide="#353D3A", scan_dim=0.24,
)  # fmt: skip
PALETTES = {p.name: p for p in (DAY, NIGHT)}

# On a picture the ground is unknown: marks there carry their own casing and do not follow the theme.
CASING = QColor(18, 21, 22, 215)
CHIP = QColor(22, 26, 27, 226)
CHIP_TEXT = QColor("#FBF8EE")
ON_PICTURE_LOOK = QColor("#FFC24A")
ON_PICTURE_POINT = QColor("#FDFCF6")
ON_PICTURE_DRAW = QColor("#C23318")

PAD = 16
SHELF, RAIL, PANEL, LEDGE, HEAD, ROW, ROW_OPEN, GROUP = 78, 116, 384, 40, 46, 24, 54, 28

TYPE = {
    "title": ("Routed Gothic", 25, 400), "section": ("Routed Gothic", 18, 400), "group": ("Routed Gothic", 15, 400),
    "figure": ("Routed Gothic", 38, 400), "numeral": ("Lato", 14, 600), "note": ("Lato", 12, 600), "note_s": ("Lato", 11, 500),
    "instruct": ("Lato", 15, 600), "body": ("Lato", 13, 400), "body_m": ("Lato", 13, 500), "strong": ("Lato", 13, 600),
    "bold": ("Lato", 13, 700), "small": ("Lato", 12, 400), "small_m": ("Lato", 12, 600), "value": ("Lato", 13, 500),
    "value_b": ("Lato", 13, 700),
}  # fmt: skip


@lru_cache(maxsize=64)
def font(role: str) -> QFont:
    family, px, weight = TYPE[role]
    f = QFont(family)
    f.setPixelSize(px)
    f.setWeight(QFont.Weight(weight))
    f.setHintingPreference(QFont.HintingPreference.PreferVerticalHinting)
    if family.startswith("Routed"):
        f.setLetterSpacing(QFont.SpacingType.PercentageSpacing, 96)
    f.setFeature(QFont.Tag("liga"), 0)  # "tt" and "ti" must not join in names
    return f


class Theme(QObject):
    """Which palette is on. Views read ``theme.t`` when they paint and repaint on ``changed``."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.t = DAY

    def use(self, name: str, remember: bool = False) -> None:
        self.t = PALETTES.get(name, DAY)
        if remember:
            QSettings().setValue("theme", self.t.name)
        self.changed.emit()


theme = Theme()


def stylesheet(t: Palette) -> str:
    """The stock widgets; everything else paints itself."""
    values = {f.name: getattr(t, f.name) for f in fields(t)}
    arrow = Path(__file__).with_name(f"arrow-{t.name}.svg").as_posix()
    tick = Path(__file__).with_name(f"tick-{t.name}.svg").as_posix()
    return _SHEET.format(**values, arrow=arrow, tick=tick)


_SHEET = """
QWidget {{ font-family: Lato; font-size: 13px; color: {ink}; }}
QMainWindow, #frame {{ background: {board}; }}
#panel, #panel QWidget#inner, QScrollArea#scroll, QScrollArea#scroll > QWidget > QWidget {{ background: {paper}; border: 0; }}
QMenuBar {{ background: transparent; padding: 0; border: 0; }}
QMenuBar::item {{ background: transparent; padding: 3px 7px 4px 7px; border-radius: 2px; }}
QMenuBar::item:selected {{ background: {paper}; }}
QMenu {{ background: {paper}; border: 1px solid {rule_strong}; padding: 4px 0; }}
QMenu::item {{ padding: 5px 24px 5px 20px; }}
QMenu::item:selected {{ background: {plan_wash}; }}
QMenu::item:disabled {{ color: {rule_strong}; }}
QMenu::separator {{ height: 1px; background: {rule}; margin: 4px 0; }}
QLineEdit, QPlainTextEdit, QDoubleSpinBox, QSpinBox {{ background: {field}; border: 1px solid {rule_strong}; border-radius: 2px; padding: 3px 8px;
  selection-background-color: {plan}; selection-color: {paper}; placeholder-text-color: {soft}; }}
QDoubleSpinBox:disabled, QSpinBox:disabled, QLineEdit:disabled {{ color: {rule_strong}; border-color: {rule}; }}
QAbstractSpinBox QLineEdit, QAbstractSpinBox QLineEdit:focus {{ border: 0; padding: 0 4px; background: transparent; }}
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button {{ width: 0; height: 0; border: 0; }}
QPlainTextEdit {{ padding: 1px 4px; }}
QPlainTextEdit:focus {{ border: 2px solid {plan}; padding: 0 3px; }}
QLineEdit:focus, QDoubleSpinBox:focus, QSpinBox:focus {{ border: 2px solid {plan}; padding: 2px 7px; }}
QPushButton {{ background: {paper}; border: 1px solid {rule_strong}; border-radius: 2px; padding: 4px 12px; font-size: 12px; font-weight: 600; }}
QPushButton:hover {{ background: {field}; border-color: {ink}; }}
QPushButton:pressed, QPushButton:checked {{ background: {ink}; color: {paper}; border-color: {ink}; }}
QPushButton:focus {{ border: 2px solid {plan}; padding: 3px 11px; }}
QPushButton[tight="true"] {{ padding: 4px 6px; }}
QPushButton[tight="true"]:focus {{ padding: 3px 5px; }}
QPushButton:disabled {{ color: {rule_strong}; background: transparent; border-color: {rule}; }}
QPushButton[strong="true"] {{ background: {ink}; color: {paper}; border-color: {ink}; }}
QPushButton[strong="true"]:hover {{ background: {soft}; }}
QPushButton[strong="true"]:disabled {{ background: transparent; color: {rule_strong}; border-color: {rule}; }}
QPushButton[bare="true"] {{ background: transparent; border: 1px solid transparent; text-decoration: underline; padding: 3px 6px; }}
QPushButton[bare="true"]:focus {{ border: 2px solid {plan}; padding: 2px 5px; }}
QComboBox {{ background: {paper}; border: 1px solid {rule_strong}; border-radius: 2px; padding: 3px 24px 3px 10px; font-size: 12px; font-weight: 600; }}
QComboBox:focus {{ border: 2px solid {plan}; padding: 2px 23px 2px 9px; }}
QComboBox::drop-down {{ border: 0; width: 22px; }}
QComboBox::down-arrow {{ image: url("{arrow}"); width: 10px; height: 6px; }}
QListWidget {{ background: {paper}; border: 1px solid {rule_strong}; border-radius: 2px; outline: 0; font-size: 12px; }}
QListWidget::item {{ padding: 3px 6px; color: {ink}; }}
QListWidget::item:selected {{ background: {plan_wash}; color: {ink}; border-left: 3px solid {plan}; }}
QComboBox QAbstractItemView {{ background: {paper}; border: 1px solid {rule_strong}; selection-background-color: {plan_wash}; selection-color: {ink}; outline: 0; }}
QCheckBox {{ spacing: 8px; }}
QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {rule_strong}; border-radius: 2px; background: {field}; }}
QCheckBox::indicator:checked {{ background: {plan}; border-color: {plan}; image: url("{tick}"); }}
QCheckBox:focus {{ color: {plan}; }}
QSlider::groove:horizontal {{ height: 3px; background: {band}; }}
QSlider::sub-page:horizontal {{ background: {soft}; }}
QSlider::handle:horizontal {{ width: 5px; margin: -7px 0; background: {ink}; border-radius: 1px; }}
QSlider:focus {{ border: 1px solid {plan}; }}
QScrollBar:vertical {{ background: transparent; width: 8px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {band}; min-height: 30px; border-radius: 4px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; }}
QToolTip {{ background: {ink}; color: {paper}; border: 0; padding: 4px 8px; }}
QDialog, QMessageBox {{ background: {paper}; }}
QProgressBar {{ background: {field}; border: 1px solid {rule_strong}; border-radius: 2px; text-align: center; font-size: 11px; }}
QProgressBar::chunk {{ background: {plan}; }}
QLabel {{ background: transparent; }}
QLabel[look="true"] {{ color: {look}; font-weight: 600; }}
QLabel[soft="true"] {{ color: {soft}; font-size: 12px; }}
QLabel[lettering="title"] {{ font-family: "Routed Gothic"; font-size: 25px; }}
QLabel[lettering="section"] {{ font-family: "Routed Gothic"; font-size: 18px; }}
QLabel[lettering="group"] {{ font-family: "Routed Gothic"; font-size: 15px; }}
"""
