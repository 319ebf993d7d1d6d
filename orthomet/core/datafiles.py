"""Small reviewed data files: found, read once, validated by a pydantic model. The trade's numbers live there."""

from __future__ import annotations

from importlib import resources
from pathlib import Path
from typing import Any, TypeVar

from annotated_types import MaxLen
from pydantic import BaseModel, ConfigDict, ValidationError

from .errors import FormatError, OrthometError, shortened
from .files import read_file
from .strict_json import parse_json

MAX_WORDS = 1 << 20
"""Letters in one value; a bound, however wide, is also what makes halves of letters be refused."""


class Record(BaseModel):
    """A frozen record that refuses unknown fields, and words without end or with halves of letters in them."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, str_max_length=MAX_WORDS)


R = TypeVar("R", bound=Record)


def parse(model: type[R], text: str, where: str) -> R:
    """Validate JSON text against a model; the error is one sentence that names the place."""
    require_lengths(model, parse_json(text, where), where)
    try:
        return model.model_validate_json(text)
    except ValidationError as e:
        said, at = first_problem(e)
        raise FormatError(f"{where} does not read as {model.__name__.lower()}: {said.lower()} at {at or 'the top'}.") from None


def require_lengths(model: type[Record], body: Any, where: str, error: type[OrthometError] = FormatError, at: str = "") -> None:
    """Refuse lists that are longer than their field allows, before anything in them is built.

    Raises
    ------
    FormatError
        Or what ``error`` names.
    """
    if not isinstance(body, dict):
        return
    for name, f in model.model_fields.items():
        most = next((m.max_length for m in f.metadata if isinstance(m, MaxLen)), None)
        here = body.get(name)
        if most is not None and isinstance(here, list) and len(here) > most:
            place = f" (at {at})" if at else ""
            raise error(f"{where} holds {len(here):,} {name.replace('_', ' ')}, where up to {most:,} can be{place}.")


def first_problem(e: ValidationError) -> tuple[str, str]:
    """What is wrong first, in words, and where; neither echoes long input."""
    first = e.errors(include_url=False, include_context=False, include_input=False)[0]
    return shortened(first["msg"].removeprefix("Value error, "), 110), shortened(".".join(str(p) for p in first["loc"]), 60)


def first_words(e: ValueError) -> str:
    """What a value that was refused is told by, in a few words."""
    if isinstance(e, ValidationError):
        return first_problem(e)[0]
    return str(e).strip().splitlines()[0]


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
    try:
        return read_file(path, limit, what).decode()
    except UnicodeDecodeError:
        raise FormatError(f"{Path(path).name} is not a text file.") from None
