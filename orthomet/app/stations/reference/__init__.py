"""Reference: pictures, landmarks, and how this face differs from the norm."""

from .station import ReferenceStation

__all__ = ["ReferenceStation"]
