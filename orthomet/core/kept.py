"""Values kept for the very objects they were made of, where hashing those in every frame would cost more than the making."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

V = TypeVar("V")


class Kept(Generic[V]):
    """At most ``most`` values, the longest unused out first. Their objects are held, so that an identity stays theirs."""

    def __init__(self, most: int):
        self.most = most
        self._items: OrderedDict[Hashable, tuple[tuple[object, ...], V]] = OrderedDict()

    def get(self, of: tuple[object, ...], make: Callable[[], V], also: Hashable = None) -> V:
        """The value made of these objects (by identity) and of ``also`` (by value)."""
        key = (also, *map(id, of))
        hit = self._items.get(key)
        if hit is None:
            hit = self._items[key] = (of, make())
            while len(self._items) > self.most:
                self._items.popitem(last=False)
        else:
            self._items.move_to_end(key)
        return hit[1]

    def __len__(self) -> int:
        return len(self._items)
