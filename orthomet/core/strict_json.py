"""JSON somebody else wrote: parsed with bounds, so that a small file cannot keep the program busy or fill its memory."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import Any

from .errors import Cancelled, FormatError, OrthometError, quoted

MAX_KEYS = 5_000
"""Names in one object."""
MAX_VALUES = 3_000_000
"""Objects and numbers in all."""
MAX_DIGITS = 30
CHECK_EVERY = 2048
_HALF = re.compile(r"\\u[dD][89a-fA-F]|[\ud800-\udfff]")
"""How JSON may spell halves of letters, which two by two are one and alone are none: they could not be saved again."""

Stop = Callable[[], bool]
"""Asked now and then; True ends the work."""


class _Refused(Exception):
    """A sentence's end, on its way out of the parser."""


class _Bounds:
    """What the parser asks for every object and number."""

    def __init__(self, stop: Stop | None):
        self.stop, self.seen = stop, 0

    def count(self) -> None:
        self.seen += 1
        if self.seen % CHECK_EVERY == 0:
            if self.stop is not None and self.stop():
                raise Cancelled("Stopped.")
            if self.seen > MAX_VALUES:
                raise _Refused("it holds too many values")

    def pairs(self, pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        self.count()
        if len(pairs) > MAX_KEYS:
            raise _Refused("it holds too many names in one place")
        out = dict(pairs)
        if len(out) != len(pairs):
            seen: set[str] = set()
            twice = next(k for k, _ in pairs if k in seen or seen.add(k))  # type: ignore[func-returns-value]
            raise _Refused(f"it says {quoted(twice)} twice")
        return out

    def integer(self, text: str) -> int:
        self.count()
        if len(text) > MAX_DIGITS:
            raise _Refused("it holds a number of too many digits")
        return int(text)

    def real(self, text: str) -> float:
        self.count()
        return float(text[:400])


def parse_json(text: str | bytes, where: str, error: type[OrthometError] = FormatError, stop: Stop | None = None) -> Any:
    """Values of a JSON text, at most :data:`MAX_VALUES` of them.

    Raises
    ------
    FormatError
        Or what ``error`` names: not JSON, a name said twice, too much of anything.
    Cancelled
        ``stop()`` said so.
    """
    bounds = _Bounds(stop)
    try:
        if isinstance(text, bytes):  # json would let halves of letters pass
            text = text.decode(json.detect_encoding(text))
        value = json.loads(text, object_pairs_hook=bounds.pairs, parse_int=bounds.integer, parse_float=bounds.real)
        if _HALF.search(text):
            json.dumps(value, ensure_ascii=False).encode()
        return value
    except _Refused as e:
        raise error(f"{where} cannot be used: {e}.") from None
    except json.JSONDecodeError as e:
        raise error(f"{where} is not proper JSON: {e.msg.lower()} in line {e.lineno}.") from None
    except UnicodeDecodeError:
        raise error(f"{where} is not proper JSON: it is not text.") from None
    except UnicodeEncodeError:
        raise error(f"{where} is not proper JSON: it holds half a letter.") from None
    except RecursionError:
        raise error(f"{where} is not proper JSON: it is nested too deeply.") from None
