"""A property that is worked out once for each object."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar, overload

Owner = TypeVar("Owner")
Value = TypeVar("Value")


class lazy_property(Generic[Owner, Value]):  # noqa: N801 - it is used as a decorator
    """As ``functools.cached_property``, without its lock.

    That lock is one for all objects of a class until Python 3.12: while one design's cut is computed, no other's would
    be. Two threads that ask the same object at the same moment work it out twice; both results are alike.
    """

    def __init__(self, work: Callable[[Owner], Value]) -> None:
        self._work, self.__doc__ = work, work.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        """Take the name under which the value is kept."""
        self._name = name

    @overload
    def __get__(self, instance: None, owner: type) -> lazy_property[Owner, Value]: ...
    @overload
    def __get__(self, instance: Owner, owner: type) -> Value: ...
    def __get__(self, instance: Owner | None, owner: type) -> lazy_property[Owner, Value] | Value:
        """Work the value out and keep it in the object, where it is found before this is asked again."""
        if instance is None:
            return self
        value = vars(instance)[self._name] = self._work(instance)
        return value
