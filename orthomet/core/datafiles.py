"""Small reviewed data files: found, read once, validated by a pydantic model. The trade's numbers live there."""

from __future__ import annotations

import json
from importlib import resources
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from .errors import FormatError


class Record(BaseModel):
    """A frozen record that refuses unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


R = TypeVar("R", bound=Record)


def parse(model: type[R], text: str, where: str) -> R:
    """Validate JSON text against a model; the error is one sentence that names the place."""
    try:
        return model.model_validate_json(text)
    except ValidationError as e:
        first = e.errors()[0]
        at = ".".join(str(p) for p in first["loc"]) or "the top"
        raise FormatError(f"{where} does not read as {model.__name__.lower()}: {first['msg'].lower()} at {at}.") from None
    except (json.JSONDecodeError, UnicodeDecodeError) as e:
        raise FormatError(f"{where} is not proper JSON: {e}.") from None


def load_folder(package: str, model: type[R]) -> dict[str, R]:
    """Every ``*.json`` of a package's folder, by file name without its ending."""
    out: dict[str, R] = {}
    for entry in sorted(resources.files(package).iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".json"):
            out[entry.name[:-5]] = parse(model, entry.read_text(encoding="utf-8"), entry.name)
    return out


def read_text(path: str | Path, limit: int, what: str) -> str:
    """Text of a file somebody else wrote, bounded in size.

    Raises
    ------
    FormatError
        Too large for ``what`` it should be, not text, or not readable.
    """
    p = Path(path)
    try:
        if p.stat().st_size > limit:
            raise FormatError(f"{p.name} is too large to be {what}.")
        return p.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        raise FormatError(f"{p.name} is not a text file.") from None
    except OSError as e:
        raise FormatError(f"{p.name} cannot be read: {e.strerror or e}.") from None
