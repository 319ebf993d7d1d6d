"""The few errors the core raises. Each carries one sentence an artist understands."""

from difflib import get_close_matches

LONGEST = 200
"""Characters of a sentence: it has to fit where it is told, whatever the file said that it speaks of."""


def shortened(text: str, most: int = LONGEST) -> str:
    """Text on one line and no longer than that, its middle left out."""
    text = " ".join("".join(c if c.isprintable() else " " for c in text[: 4 * LONGEST]).split())
    if len(text) <= most:
        return text
    tail = max(0, most // 3)
    return f"{text[: most - tail - 1]}…{text[len(text) - tail :]}"


def quoted(text: object, most: int = 40) -> str:
    """What somebody wrote, in quotation marks, never echoed whole when it is long."""
    return f"“{shortened(str(text), most)}”"


class OrthometError(Exception):
    """Base of everything the core refuses. ``str(error)`` is a sentence for the screen, :data:`LONGEST` at most."""

    def __init__(self, sentence: str = "That cannot be done."):
        super().__init__(shortened(sentence))


class LandmarkError(OrthometError):
    """Landmarks that cannot be measured: not finite, coincident, or a head upside down."""


class FormatError(OrthometError):
    """A file or a record that is not what it claims to be."""


class PictureError(OrthometError):
    """A picture that cannot be opened, or is too large to open safely."""


class ProjectError(OrthometError):
    """A project that cannot be opened or saved."""


class Cancelled(OrthometError):
    """The artist has stopped what was going on."""


class UnknownName(OrthometError):
    """A name (style, school, reading, character) that is not in the library."""

    def __init__(self, what: str, name: str, known: list[str]):
        text = ", ".join(known)
        near = get_close_matches(name[:80], known, 4, 0.5)
        hint = f"Known: {text}." if len(text) < 100 else f"Near it: {', '.join(near)}." if near else f"There are {len(known)}."
        super().__init__(f"There is no {what} named {quoted(name)}. {hint}")
