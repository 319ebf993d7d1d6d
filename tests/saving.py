"""A document saved here and now, as the window does it in two halves."""

from __future__ import annotations

from pathlib import Path

from orthomet.app.document import Document, written


def save(document: Document, path: Path | None = None) -> bool:
    saving = document.begin_save(path)
    return saving is not None and document.end_save(saving, written(saving))
