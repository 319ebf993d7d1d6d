"""The Shapes station: parts taken from the reference, plain shapes of them, dialled and pushed."""

from .station import ShapesStation

__all__ = ["ShapesStation"]
