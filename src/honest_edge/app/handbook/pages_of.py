"""The pages: found, filled with their figures, searched."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from importlib import resources

from honest_edge.app.handbook.figures import LengthWords, figure

ORDER: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Begin", ("start", "practice", "keys", "cautions")),
    ("The path", ("art", "outline", "edge", "sheet", "proof", "files", "run")),
    ("The edge", ("white-border", "full-bleed", "cut-inside", "at-the-art", "bleed", "forecast")),
    ("What is made", ("sharpness", "background", "by-hand", "layers", "forms", "tables", "cut-lines", "applying")),
    (
        "Printer and cutter",
        (
            "printing",
            "marks",
            "machine",
            "kiss-and-through",
            "blades",
            "test-cuts",
            "recipes",
            "profiles",
            "large",
        ),
    ),
    ("The workshop", ("bench", "measuring", "wrong", "rehearsal", "book", "costs")),
)
"""The pages in groups, as they stand in the list."""

TOPICS = tuple(topic for _, topics in ORDER for topic in topics)
_FIGURE = re.compile(r"\{([a-z_0-9]+)\}")
_LINK = re.compile(r"\]\(page:([a-z-]+)\)")
_MOST_FOUND = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class HandbookPage:
    """One page.

    Attributes:
        topic: names it.
        title: its heading.
        text: all of it in Markdown, figures not yet filled in.
    """

    topic: str
    title: str
    text: str

    def filled(self, length: LengthWords) -> str:
        """Return the Markdown with every figure in the user's unit."""
        return _FIGURE.sub(lambda found: figure(found[1], length), self.text)

    @property
    def links(self) -> tuple[str, ...]:
        """Topics that it leads to."""
        return tuple(_LINK.findall(self.text))


@cache
def page(topic: str) -> HandbookPage:
    """Return a page.

    Raises:
        KeyError: there is none of that topic.
    """
    if topic not in TOPICS:
        raise KeyError(topic)
    place = resources.files("honest_edge.app.handbook").joinpath("pages", f"{topic}.md")
    text = place.read_text("utf-8")
    return HandbookPage(topic=topic, title=text.partition("\n")[0].lstrip("# "), text=text)


@cache
def drawing(name: str) -> str:
    """Return a drawing as SVG, its colours named by the theme's tokens as in ``@ink``.

    Raises:
        FileNotFoundError: there is none of that name.
    """
    return resources.files("honest_edge.app.handbook").joinpath("drawings", f"{name}.svg").read_text("utf-8")


def found(words: str) -> tuple[HandbookPage, ...]:
    """Return the pages that hold all words, or beginnings of them, those first that name them in their title."""
    wanted = words.casefold().split()
    if not wanted:
        return ()
    ranked = []
    for number, topic in enumerate(TOPICS):
        one = page(topic)
        title, text = one.title.casefold(), one.text.casefold()
        if all(word in text for word in wanted):
            ranked.append((-sum(word in title for word in wanted), -sum(text.count(word) for word in wanted), number))
    return tuple(page(TOPICS[number]) for *_, number in sorted(ranked)[:_MOST_FOUND])
