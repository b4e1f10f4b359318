"""Values remembered by what they are made of, so that what is asked for again isn't computed again."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, Generic, TypeVar
from weakref import WeakSet

from pydantic import BaseModel

T = TypeVar("T")
_all: WeakSet[Remembered[Any]] = WeakSet()


class Remembered(Generic[T]):
    """So many values, those last asked for. What is kept is shared, and must not be changed by whoever gets it."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = Lock()
        _all.add(self)

    def known(self, key: Hashable) -> T | None:
        """The value of a key, where it is known."""
        with self._lock:
            if key not in self._kept:
                return None
            self._kept.move_to_end(key)
            return self._kept[key]

    def of(self, key: Hashable, make: Callable[[], T]) -> T:
        """The value of a key, made where it isn't known. Two that ask at once may both make it; what raises isn't
        kept."""
        kept = self.known(key)
        if kept is not None:
            return kept
        made = make()
        self.keep(key, made)
        return made

    def keep(self, key: Hashable, value: T) -> None:
        """From now on this is the value of a key."""
        with self._lock:
            self._kept[key] = value
            self._kept.move_to_end(key)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)

    def clear(self) -> None:
        """Nothing is known any more."""
        with self._lock:
            self._kept.clear()

    def forget(self, key: Hashable) -> None:
        """There is no value of that key any more."""
        with self._lock:
            self._kept.pop(key, None)


def forget_all() -> None:
    """Nothing is remembered any more: what it was made from is another's."""
    for one in list(_all):
        one.clear()


def key_of(*parts: object) -> bytes:
    """What values are made of: models by all they hold, anything else by how it is written."""
    return b"\0".join(_written(part) for part in parts)


def _written(part: object) -> bytes:
    if isinstance(part, BaseModel):
        return part.model_dump_json().encode()
    if isinstance(part, (tuple, list)):
        return b"\1".join(_written(one) for one in part)
    return repr(part).encode()
