"""Writing a file whole or not at all."""

from __future__ import annotations

import contextlib
from pathlib import Path

from ..errors import ProjectError


def write_whole(path: str | Path, data: bytes) -> None:
    """Write beside the target and rename over it.

    Raises
    ------
    ProjectError
        The target cannot be written; nothing is left behind.
    """
    p = Path(path)
    temp = p.with_name(f".{p.name}.part")
    try:
        temp.write_bytes(data)
        temp.replace(p)
    except OSError as e:
        with contextlib.suppress(OSError):
            temp.unlink(missing_ok=True)
        raise ProjectError(f"{p.name} cannot be written: {e.strerror or e}.") from None
