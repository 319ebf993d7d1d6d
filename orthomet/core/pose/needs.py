"""What a character's list of needs asks of its body: lines of plain words, and the actions they name."""

from __future__ import annotations

import re
from collections.abc import Iterator

from .actions import ACTIONS, Action

_TOUCH = r"\b(reach|touch|scratch|hold|pick|take|lift|lay|put|get)"
ASKS = tuple(
    (re.compile(pattern), action)
    for pattern, action in (
        (rf"{_TOUCH}.*\b(crown|own head|top of (the|her|his|its|their) head)\b", "reach crown"), (rf"({_TOUCH}|\beat|\bdrink|\bfeed).*\bmouth\b", "reach mouth"),
        (rf"{_TOUCH}.*\b(other|opposite) shoulder\b", "reach opposite shoulder"), (rf"{_TOUCH}.*\bown back\b", "reach own back"),
        (rf"{_TOUCH}.*\b(floor|ground)\b", "reach floor"), (r"\bshel(f|ves)\b", "reach shelf"), (r"\bclap", "clap overhead"),
        (r"\b(cross|fold)\w*\b.*\barms?\b", "cross arms"), (r"\bsit(s|ting)?\b", "sit"), (r"\bsteps? (up|on|over|\d)", "step"), (r"\brail(s|ing)?\b", "look over rail"),
    )
)  # fmt: skip
"""Words a line of needs names an action by."""


def needs_of(text: str) -> Iterator[tuple[str, Action, float | None]]:
    """What a character's list of needs asks that can be tried: a line, the action it names and its amount."""
    for part in re.split(r"[\n;,]+|\.(?!\d)", text):
        line = " ".join(part.split())
        low = line.casefold()
        key = next((action for pattern, action in ASKS if pattern.search(low)), None)
        if key is None:
            continue
        number = re.search(r"(\d+(?:\.\d+)?)\s*heads?", low)
        amount = float(number.group(1)) if number and ACTIONS[key].asks else None
        yield line, ACTIONS[key], amount if amount is None or 0 < amount <= 40 else None
