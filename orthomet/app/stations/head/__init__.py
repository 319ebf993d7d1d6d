"""The Head station: the planned head as a solid, turned by hand, to draw over or to look up."""

from .station import HeadStation

__all__ = ["HeadStation"]
