"""One window all along, a monkey at it, and its memory watched: it must level off."""

from __future__ import annotations

import random
import sys
import time
import traceback
from pathlib import Path

import numpy as np

from .cases import Wrong
from .monkey import Monkey

EVERY = 10.0
GROWN, SLACK_MB = 1.2, 60.0
"""How much more than in its middle third a run may hold in its last, as a factor and beside it, MB."""


def resident_mb() -> float:
    return int(Path("/proc/self/statm").read_text().split()[1]) * 4096 / 1e6


def main(seed: int, seconds: float) -> int:
    m = Monkey(random.Random(seed), demo=True)
    start = last = time.monotonic()
    held: list[float] = []
    steps = 0
    try:
        while time.monotonic() - start < seconds:
            m.step()
            steps += 1
            if time.monotonic() - last >= EVERY:
                last = time.monotonic()
                held.append(resident_mb())
            if steps % 400 == 0 and m.rng.random() < 0.5:  # a cast that has grown out of hand is no memory lost
                m.desk.document.commit()
                m.desk.open_demo()
    except Exception as e:  # the monkey has taken the place of what tells of the others
        told = str(e) if isinstance(e, Wrong) else traceback.format_exc()
        print(f"FAILED watched window, seed {seed}, step {steps}: {told.encode(errors='backslashreplace').decode()}", flush=True)
        return 1
    thirds = [float(np.median(part)) for part in np.array_split(np.array(held or [0.0]), 3) if len(part)]
    told = " → ".join(f"{v:.0f}" for v in thirds)
    print(f"watched window: {steps} steps, memory by thirds of the time {told} MB, most {max(held, default=0):.0f}", flush=True)
    if len(thirds) == 3 and thirds[2] > GROWN * thirds[1] + SLACK_MB:
        print(f"FAILED watched window, seed {seed}: its memory does not level off", flush=True)
        return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main(int(sys.argv[1]), float(sys.argv[2])))
