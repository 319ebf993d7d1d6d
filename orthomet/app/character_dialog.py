"""One small form for who a character is: name, part, height, age."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QDoubleSpinBox, QFormLayout, QLineEdit, QWidget


class CharacterDialog(QDialog):
    """``fields()`` holds what was entered, ready for an edit."""

    def __init__(
        self, title: str, name: str = "", role: str = "", height_m: float = 1.70, age: float = 30.0, parent: QWidget | None = None
    ):
        super().__init__(parent)
        self.setWindowTitle(title)
        self.name, self.role = QLineEdit(name), QLineEdit(role)
        self.name.setMaxLength(80)
        self.role.setMaxLength(80)
        self.name.setPlaceholderText("Name")
        self.role.setPlaceholderText("pilot, ticket clerk, boiler-room creature…")
        self.height_m, self.age = QDoubleSpinBox(), QDoubleSpinBox()
        for box, low, high, decimals, suffix, value in (
            (self.height_m, 0.1, 30.0, 2, " m", height_m),
            (self.age, 0.0, 150.0, 0, " years", age),
        ):
            box.setRange(low, high)
            box.setDecimals(decimals)
            box.setSuffix(suffix)
            box.setValue(value)
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
        return {
            "name": self.name.text().strip(),
            "role": self.role.text().strip(),
            "height_m": self.height_m.value(),
            "age": self.age.value(),
        }


def asked(form: CharacterDialog) -> dict[str, Any] | None:
    """What a form came back with; ``None`` where it was left, or no name was given. The form goes."""
    fields = form.fields() if form.exec() else {}
    form.deleteLater()
    return fields if fields.get("name") else None
