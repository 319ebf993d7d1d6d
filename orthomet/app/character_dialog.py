"""One small form for who a character is: name, part, height, age."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QWidget

from .parts import entry
from .stations.pages import number_box, put


class CharacterDialog(QDialog):
    """``fields()`` holds what was entered, ready for an edit."""

    def __init__(
        self, title: str, name: str = "", role: str = "", height_m: float = 1.70, age: float = 30.0, parent: QWidget | None = None
    ):
        super().__init__(parent)
        self.setWindowTitle(title)
        self.name, self.role = entry("Name", "Name", 80), entry("Part", "pilot, ticket clerk, boiler-room creature…", 80)
        self.name.setText(name)
        self.role.setText(role)
        self.height_m = number_box(0.1, 30, 1, 2, " m", "How tall, in metres", lambda _: None)
        self.age = number_box(0, 150, 1, 0, " years", "How old, in years", lambda _: None)
        put(self.height_m, height_m)
        put(self.age, age)
        form = QFormLayout(self)
        for words, w in (("Name", self.name), ("Part", self.role), ("Height", self.height_m), ("Age", self.age)):
            w.setAccessibleName(words)
            form.addRow(words, w)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self.name.setFocus()

    def fields(self) -> dict[str, Any]:
        words = {"name": self.name.text().strip(), "role": self.role.text().strip()}
        return {**words, "height_m": self.height_m.value(), "age": self.age.value()}


def asked(form: CharacterDialog) -> dict[str, Any] | None:
    """What a form came back with; ``None`` where it was left, or no name was given. The form goes."""
    fields = form.fields() if form.exec() else {}
    form.deleteLater()
    return fields if fields.get("name") else None
