"""A loop from an SVG, held against svgelements, a library for such paths."""

import numpy as np
import pytest
import shapely
from svgelements import Path as SvgPath

from honest_edge.core.values.errors import FileError
from honest_edge.files.read_loop import read_loop

CURVED = "M 10 10 h 80 v 30 C 90 90 60 95 40 90 S 5 60 10 10 Z"
HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">'


@pytest.mark.parametrize(
    "text", ["M 10 10 L 90 12 L 80 90 Z", CURVED, "M10,10 q40,-20 80,0 t-20,70 a30,20 0 0 1 -50,0z"]
)
def test_places_lie_on_the_path_and_go_round_it(tmp_path, text):
    (tmp_path / "loop.svg").write_text(f'{HEAD}<path d="{text}"/><path d="M0 0 L1 1 L0 1 Z"/></svg>')
    found = np.array(read_loop(tmp_path / "loop.svg"))
    whole = SvgPath(text)
    line = np.array([(p.x, p.y) for p in (whole.point(share) for share in np.linspace(0, 1, 2000))])
    away = np.hypot(*(found[:, None] - line[None]).transpose(2, 0, 1)).min(axis=1)
    assert away.max() < 0.1
    ours, theirs = (shapely.Polygon(points).buffer(0) for points in (found, line))
    assert ours.symmetric_difference(theirs).area < 0.01 * theirs.area


@pytest.mark.parametrize(
    ("text", "words"),
    [(f"{HEAD}<rect/></svg>", "holds no path"), ("<svg", "is no SVG"), (f'{HEAD}<path d="M0 0 Q"/></svg>', "path|SVG")],
)
def test_what_is_no_loop_is_said_in_one_line(tmp_path, text, words):
    (tmp_path / "loop.svg").write_text(text)
    with pytest.raises(FileError, match=words) as said:
        read_loop(tmp_path / "loop.svg")
    assert "\n" not in str(said.value)
