"""Asking where to write a file: the ending is added first, then whether what is there may be replaced."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

Kinds = Mapping[str, str]
"""Endings a file may have, the usual one first, each with its words."""


def with_ending(path: str, kinds: Kinds, chosen: str = "") -> str:
    """The path with an ending of the kinds: its own, or the one of the chosen filter line."""
    if not path or path.lower().endswith(tuple(kinds)):
        return path
    ending = next((e for e in kinds if f"*{e}" in chosen), next(iter(kinds)))
    return path + ending


def ask_where(parent: QWidget, title: str, start: str, kinds: Kinds) -> str:
    """A path to write to, its ending complete; empty when it is not wanted after all."""
    lines = ";;".join(f"{words} (*{ending})" for ending, words in kinds.items())
    path, chosen = QFileDialog.getSaveFileName(parent, title, start, lines, "", QFileDialog.Option.DontConfirmOverwrite)
    path = with_ending(path, kinds, chosen)
    return path if path and (not Path(path).exists() or may_replace(parent, Path(path))) else ""


def may_replace(parent: QWidget, path: Path) -> bool:
    box = QMessageBox(parent)
    box.setIcon(QMessageBox.Icon.Warning)
    box.setWindowTitle("Orthomet")
    box.setText(f"{path.name} is there already.")
    box.setInformativeText("Replace it with what you are writing now?")
    replace = box.addButton("Replace", QMessageBox.ButtonRole.DestructiveRole)
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(QMessageBox.StandardButton.Cancel)
    box.exec()
    box.deleteLater()
    return box.clickedButton() is replace
