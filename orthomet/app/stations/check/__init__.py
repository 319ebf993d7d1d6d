"""Check: a finished drawing over its plan, what differs, what to do, what passes."""

from .station import CheckStation

__all__ = ["CheckStation"]
