"""The few errors the core raises. Each carries one sentence an artist understands."""


class OrthometError(Exception):
    """Base of everything the core refuses. ``str(error)`` is a sentence for the screen."""


class LandmarkError(OrthometError):
    """Landmarks that cannot be measured: not finite, coincident, or a head upside down."""


class FormatError(OrthometError):
    """A file or a record that is not what it claims to be."""


class PictureError(OrthometError):
    """A picture that cannot be opened, or is too large to open safely."""


class ProjectError(OrthometError):
    """A project that cannot be opened or saved."""


class UnknownName(OrthometError):
    """A name (style, school, reading, character) that is not in the library."""

    def __init__(self, what: str, name: str, known: list[str]):
        super().__init__(f"There is no {what} named “{name}”. Known: {', '.join(known)}.")
