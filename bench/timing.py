"""Timing two things in turn, so that a machine that changes speed changes both."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np


def once(f: Callable[[], object]) -> float:
    t = time.perf_counter()
    f()
    return time.perf_counter() - t


def alternating(a: Callable[[], object], b: Callable[[], object], rounds: int) -> tuple[np.ndarray, np.ndarray]:
    """Seconds of both, taken in turn, after one warm-up each."""
    a(), b()
    pairs = [(once(a), once(b)) for _ in range(rounds)]
    return np.array([p[0] for p in pairs]), np.array([p[1] for p in pairs])


def report(name: str, value: str, goal: str, met: bool) -> None:
    print(f"{'ok  ' if met else 'MISS'}  {name:58s} {value:34s} goal {goal}", flush=True)
