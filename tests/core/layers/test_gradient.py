"""Gradients against the same ones drawn by resvg, an SVG renderer (SVG 1.1, 13.2: linear and radial gradients)."""

import io
import math

import numpy as np
import pytest
import resvg_py
from PIL import Image

from honest_edge.core.layers.gradient import gradient_pixels
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.layers import Gradient

COLOURS = ((247, 237, 214), (217, 164, 65), (93, 50, 96))


def by_resvg(gradient, width, height):
    stops = "".join(
        f'<stop offset="{n / (len(gradient.colours) - 1)}" stop-color="rgb{rgb}"/>'
        for n, rgb in enumerate(gradient.colours)
    )
    if gradient.kind == "radial":
        head = f'radialGradient id="g" cx="0.5" cy="0.5" r="{math.hypot(0.5, 0.5)}"'
    else:
        turn = math.radians(gradient.turn_deg)
        half = (abs(width * math.cos(turn)) + abs(height * math.sin(turn))) / 2
        x, y = half * math.cos(turn), half * math.sin(turn)
        ends = f'x1="{width / 2 - x}" y1="{height / 2 - y}" x2="{width / 2 + x}" y2="{height / 2 + y}"'
        head = f'linearGradient id="g" gradientUnits="userSpaceOnUse" {ends}'
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}"><defs><{head}>{stops}'
        f'</{head.split()[0]}></defs><rect width="{width}" height="{height}" fill="url(#g)"/></svg>'
    )
    return np.asarray(Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, dpi=96)))).convert("RGB"))


@pytest.mark.parametrize("size", [(400, 300), (200, 480)])
@pytest.mark.parametrize(
    "gradient",
    [
        Gradient(colours=COLOURS, turn_deg=0),
        Gradient(colours=COLOURS, turn_deg=90),
        Gradient(colours=COLOURS[:2], turn_deg=37),
        Gradient(kind="radial", colours=COLOURS),
    ],
)
def test_a_gradient_is_what_a_renderer_draws(gradient, size):
    ours = gradient_pixels(gradient, *size)
    scaled = np.asarray(Image.fromarray(ours[..., :3]).resize(size, Image.Resampling.BOX)).astype(int)
    difference = np.abs(scaled - by_resvg(gradient, *size))
    assert difference.mean() < 1.0
    assert difference.max() <= 6
    assert (ours[..., 3] == 255).all()


def test_one_colour_or_too_many_are_none():
    for colours in ((COLOURS[0],), COLOURS * 3):
        with pytest.raises(UsageError, match="colours of the gradient must be 2 to 6"):
            Gradient(colours=colours)
