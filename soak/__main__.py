"""Case after case until the time is over: each in a process of its own, its kind and all its chances from its number.

``SEED=N`` begins with case N, so it plays a failure again. A long run also keeps one window open all along and watches its memory.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from .cases import CASES

LONGEST = 60.0
"""Seconds a case may take before it counts as a wait without end."""
WATCHED = 5.0
"""Minutes from which on a window is watched beside the cases."""


def main() -> int:
    minutes = float(os.environ.get("MINUTES") or 15)
    seed = int(os.environ.get("SEED") or int(time.time()) % 1_000_000)
    end = time.monotonic() + 60 * minutes
    failed: list[int] = []
    counts = dict.fromkeys(CASES, 0)
    print(f"soak: {minutes:g} minutes from seed {seed}", flush=True)
    watched = _watch(seed, 60 * minutes) if minutes >= WATCHED else None
    names = list(CASES)
    while time.monotonic() < end:
        name = names[seed % len(names)]
        left = max(5.0, min(LONGEST, end + 8 - time.monotonic()))
        words = _run(name, seed, left, left < LONGEST)
        counts[name] += 1
        if words:
            failed.append(seed)
            print(f"FAILED {name}, seed {seed}: {words}\n  again: make soak MINUTES=0.1 SEED={seed}", flush=True)
        seed += 1
    if watched is not None:
        out, err = watched.communicate(timeout=120)
        print(out.strip(), flush=True)
        if watched.returncode:
            failed.append(-1)
            print("FAILED watched: " + _end_of(watched.returncode, err), flush=True)
    told = ", ".join(f"{n} {k}" for k, n in counts.items())
    print(f"soak: {sum(counts.values())} cases ({told}); {len(failed)} failed", flush=True)
    return 1 if failed else 0


def _run(name: str, seed: int, seconds: float, cut: bool) -> str:
    """What went wrong in one case, or nothing. A case cut off by the end of the run is none."""
    with tempfile.TemporaryDirectory(prefix="orthomet-soak-") as home:
        p = _start(["-m", "soak.cases", name, str(seed)], home)
        try:
            out, err = p.communicate(timeout=seconds)
        except subprocess.TimeoutExpired:
            os.killpg(p.pid, signal.SIGKILL)
            p.communicate()
            return "" if cut else f"did not end within {seconds:.0f} s"
    if p.returncode == 0:
        return ""
    return _end_of(p.returncode, out + err)


def _end_of(code: int, told: str) -> str:
    """How a process ended, and the last it said."""
    tail = "\n  ".join(told.strip().splitlines()[-14:])
    return f"{f'ended by signal {-code}' if code < 0 else 'failed'}\n  {tail}"


def _watch(seed: int, seconds: float) -> subprocess.Popen[str]:
    home = tempfile.mkdtemp(prefix="orthomet-soak-")
    return _start(["-m", "soak.watched", str(seed), str(seconds)], home)


def _start(arguments: list[str], home: str) -> subprocess.Popen[str]:
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": home, "PYTHONFAULTHANDLER": "1"}
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR", "XDG_DATA_HOME"):
        env[name] = str(Path(home) / name.lower())
    return subprocess.Popen(
        [sys.executable, *arguments], env=env, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, start_new_session=True
    )


if __name__ == "__main__":
    raise SystemExit(main())
