"""The Styles station: a library of styles, learned from drawings, compared, and set beside the artist's own hand."""

from .station import StylesStation

__all__ = ["StylesStation"]
