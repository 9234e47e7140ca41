"""Steps that declare by their parameters what they read: what a result is kept by follows, and nothing is forgotten.

A step sees nothing but its arguments. Each is named after another step or after something given; all that is given and
reached through its arguments is the key of what it makes. An argument "later_..." is a function that gives the result:
what is only needed sometimes is then not made in vain.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass
from typing import Any, Generic, NamedTuple, TypeVar, cast

from honest_edge.app.results.cache import ResultCache

T = TypeVar("T")
T_co = TypeVar("T_co", covariant=True)
LATER = "later_"


@dataclass(frozen=True, eq=False)
class Step(Generic[T_co]):
    """One step.

    Attributes:
        make: makes its result.
        keep: where: with all others, only for a while, or not at all where it is made at once.
        reads: what it is made of: names of steps, and of what is given.
        roots: what its result depends on.
        is_told: what depends on it is kept by its result, and not by what that was made of.
    """

    make: Callable[..., T_co]
    keep: str
    reads: tuple[str, ...]
    roots: tuple[str, ...]
    is_told: bool

    @property
    def name(self) -> str:
        """What it is called by those that read it."""
        return self.make.__name__


class Given(NamedTuple):
    """What steps begin with, and what it is known by."""

    value: Any
    key: Hashable


class Steps:
    """Steps one after the other: each may read those before it."""

    def __init__(self) -> None:
        self.by_name: dict[str, Step[Any]] = {}

    def step(self, keep: str = "kept", *, is_told: bool = False) -> Callable[[Callable[..., T]], Step[T]]:
        """Make a step of a function; ``keep`` is "kept", "passing" or "not"."""

        def declared(make: Callable[..., T]) -> Step[T]:
            reads = tuple(inspect.signature(make).parameters)
            roots = dict.fromkeys(root for name in reads for root in self._roots(name.removeprefix(LATER)))
            step = Step(make=make, keep=keep, reads=reads, roots=tuple(roots), is_told=is_told)
            self.by_name[step.name] = step
            return step

        return declared

    def _roots(self, name: str) -> tuple[str, ...]:
        step = self.by_name.get(name)
        return (name,) if step is None or step.is_told else step.roots


class Stepping:
    """The steps of one design: each is made when it is asked for, and but once."""

    def __init__(self, steps: Steps, given: Mapping[str, Given], caches: Mapping[str, ResultCache]) -> None:
        """Take what steps begin with, and the stores by what steps call them."""
        self._steps, self._given, self._caches = steps, given, caches
        self._values: dict[str, Any] = {name: one.value for name, one in given.items()}

    def of(self, step: Step[T]) -> T:
        """Return what a step makes."""
        return cast(T, self._value(step.name))

    def given(self, name: str) -> Any:
        """Return something that was given."""
        return self._given[name].value

    def again(self, step: Step[T]) -> Callable[[], T]:
        """Return what gives a step's result once more; it holds on to what the step reads and to nothing else."""
        cache, key, values = self._caches[step.keep], self._key(step), tuple(map(self._value, step.reads))
        return lambda: cache.get(step.name, key, lambda: step.make(*values))

    def _value(self, name: str) -> Any:
        if name.startswith(LATER):
            return lambda: self._value(name.removeprefix(LATER))
        if name not in self._values:
            step = self._steps.by_name[name]
            cache = self._caches.get(step.keep)
            self._values[name] = (
                self._made(step) if cache is None else cache.get(name, self._key(step), lambda: self._made(step))
            )
        return self._values[name]

    def _made(self, step: Step[T]) -> T:
        return step.make(*map(self._value, step.reads))

    def _key(self, step: Step[Any]) -> tuple[Hashable, ...]:
        """Return what a step's result is kept by."""
        return tuple(self._given[root].key if root in self._given else self._value(root) for root in step.roots)
