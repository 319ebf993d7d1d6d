"""Sheet: the guides on a page at true size, and their export."""

from .station import SheetStation

__all__ = ["SheetStation"]
