"""The Figure station: heads tall, the canon, the body's traits, and whether body and head are of one age."""

from .station import FigureStation

__all__ = ["FigureStation"]
