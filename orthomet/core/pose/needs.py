"""What a character's list of needs asks of its body: lines of plain words, and the actions they name."""

from __future__ import annotations

import re
from collections.abc import Iterator

from .actions import ACTIONS, Action


def needs_of(text: str) -> Iterator[tuple[str, Action, float | None]]:
    """What a character's list of needs asks that can be tried: a line, the action it names and its amount."""
    words = {
        "crown": "reach crown", "top of the head": "reach crown", "own head": "reach crown", "mouth": "reach mouth", "other shoulder": "reach opposite shoulder",
        "opposite shoulder": "reach opposite shoulder", "own back": "reach own back", "floor": "reach floor", "ground": "reach floor", "shelf": "reach shelf",
        "clap": "clap overhead", "cross": "cross arms", "fold": "cross arms", "sit": "sit", "step": "step", "rail": "look over rail",
    }  # fmt: skip
    for part in re.split(r"[\n;,]+|\.(?!\d)", text):
        line = " ".join(part.split())
        low = line.casefold()
        key = next((a for w, a in words.items() if re.search(rf"\b{re.escape(w)}", low)), None)
        if key is None:
            continue
        number = re.search(r"(\d+(?:\.\d+)?)\s*heads?", low)
        amount = float(number.group(1)) if number and ACTIONS[key].asks else None
        yield line, ACTIONS[key], amount if amount is None or 0 < amount <= 40 else None
