"""Files as bad luck and bad will make them: bytes and values changed by chance."""

from __future__ import annotations

import io
import json
import random
import zipfile
from copy import deepcopy
from typing import Any

NASTY: tuple[Any, ...] = (
    None, True, 0, -1, 1e308, -1e308, 1e-320, float("nan"), float("inf"), 10**40, "", "x" * 5000, "\u0000", "“”\ud800", [], {}, [[]], [1, 2], "..", "/etc/passwd",
)  # fmt: skip

MOST_GROWN = 4_000_000
"""Letters a list may be grown by at once: the writing of more would take longer than a case may."""


def bytes_of(rng: random.Random, data: bytes) -> bytes:
    """A few bytes changed, cut out, doubled or put in."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 5, 20))):
        if not out:
            break
        at = rng.randrange(len(out))
        kind = rng.randrange(5)
        if kind == 0:
            out[at] = rng.randrange(256)
        elif kind == 1:
            del out[at : at + rng.choice((1, 4, 100, 5000))]
        elif kind == 2:
            out[at:at] = out[at : at + rng.choice((1, 8, 300))]
        elif kind == 3:
            out[at:at] = rng.randbytes(rng.choice((1, 4, 64)))
        else:
            del out[at:]
    return bytes(out)


def value_of(rng: random.Random, body: Any, times: int = 1) -> Any:
    """A JSON value with some of its parts replaced, taken away, doubled or renamed; lists grown beyond reason."""
    body = json.loads(json.dumps(body))
    for _ in range(times):
        _change(rng, body)
    return body


def _change(rng: random.Random, body: Any) -> None:
    at = body
    for _ in range(rng.randrange(1, 9)):
        inside = [v for v in (at.values() if isinstance(at, dict) else at) if isinstance(v, dict | list) and v]
        if not inside or rng.random() < 0.15:
            break
        at = rng.choice(inside)
    if isinstance(at, dict) and at:
        key = rng.choice(list(at))
        kind = rng.randrange(5)
        if kind == 0:
            del at[key]
        elif kind == 1:
            at[rng.choice(("", "zzz", key + "x", "own_a_a", "x" * 3000))] = at.pop(key)
        elif kind == 2 and isinstance(at[key], int | float) and not isinstance(at[key], bool):
            at[key] = at[key] * rng.choice((-1, 0, 1e3, 1e9, 1e-9)) + rng.choice((0, 0.5, -3))
        else:
            at[key] = deepcopy(rng.choice(NASTY))
    elif isinstance(at, list) and at:
        k = rng.randrange(len(at))
        kind = rng.randrange(4)
        if kind == 0:
            at[k] = deepcopy(rng.choice(NASTY))
        elif kind == 1:
            del at[k]
        elif kind == 2:
            room = MOST_GROWN // (1 + len(json.dumps(at[k])))
            at.extend(deepcopy(at[k]) for _ in range(min(rng.choice((1, 30, 2000)), room)))
        else:
            at.insert(k, deepcopy(rng.choice(NASTY)))


def text_of(rng: random.Random, body: Any) -> bytes:
    """JSON of a changed value, now and then with its bytes changed too, or a name said twice."""
    text = json.dumps(value_of(rng, body, rng.choice((1, 1, 2, 6))), ensure_ascii=rng.random() < 0.5)
    data = text.encode("utf-8", "surrogatepass")
    if rng.random() < 0.15:
        data = bytes_of(rng, data)
    if rng.random() < 0.05:
        data = data.replace(b"{", b'{"view": "front", "view": "front", ', 1)
    return data


def project_of(rng: random.Random, whole: bytes) -> bytes:
    """A project file changed inside its zip or as bytes."""
    if rng.random() < 0.3:
        return bytes_of(rng, whole)
    out = io.BytesIO()
    how = rng.choice((zipfile.ZIP_DEFLATED, zipfile.ZIP_STORED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA))
    with zipfile.ZipFile(io.BytesIO(whole)) as z, zipfile.ZipFile(out, "w", how) as w:
        for name in z.namelist():
            data = z.read(name)
            if name == "project.json":
                data = text_of(rng, json.loads(data)) if rng.random() < 0.9 else data
            elif rng.random() < 0.1:
                data = bytes_of(rng, data)
            w.writestr(rng.choice(("../", "/", "c:/", "\\")) + name if rng.random() < 0.03 else name, data)
    done = out.getvalue()
    return bytes_of(rng, done) if rng.random() < 0.1 else done
