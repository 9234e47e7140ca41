"""Draws docs/architecture.svg: the rooms of the source, as they import each other.

A room stands above all that it imports. An arrow is drawn where a room imports another and no chain of other
arrows says so already (transitive reduction), so that what is left can be followed with a finger.
"""

from __future__ import annotations

from pathlib import Path

import grimp
import networkx as nx

PICTURE = Path(__file__).parents[1] / "docs" / "architecture.svg"
PACKAGE = "honest_edge"

_WIDTH, _ROW, _BOX, _MARGIN = 1120, 78, 40, 28
_FILL = {"ui": "#E3E8F8", "cli": "#E3E8F8", "app": "#F5E9D6", "files": "#DDEBDD", "core": "#F3DDEA", "": "#FBF9F4"}
_INK, _LINE, _SOFT = "#23262E", "#5C5F68", "#6B6658"


def space_of(module: str) -> str:
    """Return the room that a module belongs to, such as "ui.stations.edge"."""
    parts = module.split(".")[1:]
    if not parts or parts[0] in ("__main__", "cli", "files"):
        return parts[0] if parts else ""
    if parts[:2] == ["ui", "stations"]:
        return ".".join(parts[:3])
    return ".".join(parts[:2])


def rooms() -> nx.DiGraph[str]:
    """Return which room imports which, with the number of imports."""
    imports = grimp.build_graph(PACKAGE, include_external_packages=False, cache_dir=None)
    graph: nx.DiGraph[str] = nx.DiGraph()
    for module in imports.modules:
        room = space_of(module)
        if room:
            graph.add_node(room)
        for other in imports.find_modules_directly_imported_by(module):
            below = space_of(other)
            if room and below and below != room:
                count = graph.get_edge_data(room, below, {"count": 0})["count"]
                graph.add_edge(room, below, count=count + 1)
    # packages whose __init__ is empty are no rooms of their own
    graph.remove_nodes_from([room for room in list(graph) if graph.degree(room) == 0 or room in ("ui", "app", "core")])
    return graph


def rows_of(graph: nx.DiGraph[str]) -> list[list[str]]:
    """Return the rooms in rows, the lowest last: each as high above the bottom as its longest chain of imports."""
    height: dict[str, int] = {}
    for room in reversed(list(nx.topological_sort(graph))):
        height[room] = max((height[below] + 1 for below in graph.successors(room)), default=0)
    return [sorted(room for room in graph if height[room] == level) for level in range(max(height.values()), -1, -1)]


def drawn(graph: nx.DiGraph[str]) -> str:
    """Return the picture."""
    rows = rows_of(graph)
    boxes: dict[str, tuple[float, float, float]] = {}
    for number, row in enumerate(rows):
        wide = min(190.0, (_WIDTH - 2 * _MARGIN) / len(row) - 14)
        start = (_WIDTH - len(row) * (wide + 14) + 14) / 2
        for place, room in enumerate(row):
            boxes[room] = (start + place * (wide + 14), _MARGIN + number * _ROW, wide)
    height = 2 * _MARGIN + (len(rows) - 1) * _ROW + _BOX
    arrows = [_arrow(boxes[one], boxes[other]) for one, other in sorted(nx.transitive_reduction(graph).edges)]
    parts = [*arrows, *(_box(room, *boxes[room]) for room in boxes)]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_WIDTH}" height="{height}" viewBox="0 0 {_WIDTH} {height}" '
        'font-family="Atkinson Hyperlegible Next, sans-serif" font-size="14">\n'
        f'<rect width="{_WIDTH}" height="{height}" fill="#ECE7DC"/>\n'
        '<marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">'
        f'<path d="M0 0 L8 4 L0 8 Z" fill="{_LINE}"/></marker>\n' + "\n".join(parts) + "\n</svg>\n"
    )


def _box(room: str, x: float, y: float, wide: float) -> str:
    package, _, name = room.partition(".")
    fill = _FILL.get(package, _FILL[""])
    text = f'<tspan fill="{_SOFT}">{package}{"." if name else ""}</tspan>{name}' if name else package
    return (
        f'<rect x="{x:.1f}" y="{y}" width="{wide:.1f}" height="{_BOX}" rx="7" fill="{fill}" stroke="{_SOFT}"/>'
        f'<text x="{x + wide / 2:.1f}" y="{y + _BOX / 2 + 5}" text-anchor="middle" fill="{_INK}">{text}</text>'
    )


def _arrow(above: tuple[float, float, float], below: tuple[float, float, float]) -> str:
    (x0, y0, wide0), (x1, y1, wide1) = above, below
    start, end, top = x0 + wide0 / 2, x1 + wide1 / 2, y0 + _BOX
    bend = (y1 - top) / 2
    way = f"M{start:.1f} {top} C{start:.1f} {top + bend:.1f} {end:.1f} {y1 - bend:.1f} {end:.1f} {y1 - 1}"
    return f'<path d="{way}" fill="none" stroke="{_LINE}" stroke-width="1.2" marker-end="url(#tip)"/>'


def main() -> None:
    """Write the picture."""
    PICTURE.write_text(drawn(rooms()), "utf-8")


if __name__ == "__main__":
    main()
