"""The flattened picture against Pillow's compositing, and codes read back by a decoder."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
import zxingcpp
from PIL import Image

from honest_edge.core.layers.codes import code_area
from honest_edge.core.layers.flatten import flatten
from honest_edge.core.layers.paint import coverage
from honest_edge.core.layers.stack import Content, stack_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.core.values.layers import Backing, Code, Layer, Paint, Picture, Shape

PIXEL_MM = 25.4 / 300


def soft_picture(seed, size=(90, 70)):
    """Invented colours under an alpha that is soft everywhere."""
    pixels = np.random.default_rng(seed).integers(0, 256, (size[1], size[0], 4), np.uint8)
    pixels[..., 3] = np.maximum(pixels[..., 3], 1)
    return pixels


def picture_layer(key, pixels, left_px, top_px):
    height, width = pixels.shape[:2]
    layer = Layer(
        key=key,
        picture=Picture(asset="0" * 64, file_name=key, width_mm=width * PIXEL_MM),
        x_mm=(left_px + width / 2) * PIXEL_MM,
        y_mm=(top_px + height / 2) * PIXEL_MM,
    )
    half = np.array([width, height]) / 2 * PIXEL_MM
    area = shapely.MultiPolygon([shapely.box(*-half, *half)])
    return layer, Content(area=area, pixels=pixels, pixel_mm=PIXEL_MM)


def test_flattening_equals_pillows_compositing_within_rounding():
    spots = [(0, 0), (40, 20), (15, 50)]
    made = [picture_layer(f"p{n}", soft_picture(n), *spot) for n, spot in enumerate(spots)]
    stack = stack_of([layer for layer, _ in made], {layer.key: content for layer, content in made}, None)
    flat = flatten(stack, ppi=300)
    expected = Image.new("RGBA", (flat.pixels.shape[1], flat.pixels.shape[0]))
    for (_, content), (x, y) in zip(made, spots, strict=True):
        expected.alpha_composite(Image.fromarray(content.pixels), (x + 1, y + 1))  # a pixel of air runs round it
    ours, theirs = (np.asarray(p, np.float64) for p in (flat.pixels, expected))
    for alpha in (ours, theirs):
        alpha[..., :3] *= alpha[..., 3:] / 255  # colour counts as much as it is seen
    assert np.abs(ours - theirs).max() <= 2.5  # Pillow rounds after every layer, here once


def test_a_thin_layer_lets_what_lies_below_through_and_a_flipped_picture_is_mirrored():
    """Porter and Duff (1984): over an opaque ground, share of the upper colour and the rest of the lower."""
    ground, below = picture_layer("g", np.full((60, 80, 4), (200, 40, 0, 255), np.uint8), 0, 0)
    pixels = soft_picture(3, (80, 60))
    pixels[..., 3] = 255
    layer, above = picture_layer("a", pixels, 0, 0)
    contents = {"g": below, "a": above}
    for percent in (100.0, 40.0):
        thin = replace(layer, opacity_percent=percent, is_flipped=True)
        flat = flatten(stack_of([ground, thin], contents, None), ppi=300).pixels[1:61, 1:81]
        mixed = pixels[:, ::-1, :3] * percent / 100 + np.array([200, 40, 0]) * (1 - percent / 100)
        assert np.abs(flat[..., :3] - mixed).max() <= 1.5
        assert (flat[..., 3] == 255).all()
    alone = flatten(stack_of([replace(layer, opacity_percent=40.0)], contents, None), ppi=300)
    assert set(np.unique(alone.pixels[1:61, 1:81, 3])) == {102}
    assert alone.area.area == pytest.approx(80 * 60 * PIXEL_MM**2)  # it is cut as it was


def test_a_plain_form_covers_pixels_by_the_share_it_has_of_them():
    disc = shapely.MultiPolygon([shapely.Point(10, 10).buffer(6.3, quad_segs=64)])
    share = coverage(disc, (240, 240), (0.0, 0.0), PIXEL_MM) / 255
    assert share.sum() * PIXEL_MM**2 == pytest.approx(disc.area, rel=0.005)
    exact = [
        shapely.intersection(disc, shapely.box(x * PIXEL_MM, y * PIXEL_MM, (x + 1) * PIXEL_MM, (y + 1) * PIXEL_MM)).area
        for y, x in ((118, 192), (45, 130), (70, 60), (118, 118))
    ]
    found = [share[y, x] * PIXEL_MM**2 for y, x in ((118, 192), (45, 130), (70, 60), (118, 118))]
    assert found == pytest.approx(exact, abs=0.15 * PIXEL_MM**2)


def test_turned_and_enlarged_pictures_keep_their_middle_and_size():
    pixels = np.zeros((60, 100, 4), np.uint8)
    pixels[:] = (200, 30, 60, 255)
    layer, content = picture_layer("p", pixels, 0, 0)
    turned = Layer(key="p", picture=layer.picture, x_mm=20, y_mm=15, turn_deg=30)
    flat = flatten(stack_of([turned], {"p": content}, None), ppi=600)
    ys, xs = np.nonzero(flat.pixels[..., 3] > 127)
    middle = np.array([xs.mean() + 0.5, ys.mean() + 0.5]) * flat.pixel_mm + (flat.left_mm, flat.top_mm)
    assert middle == pytest.approx((20, 15), abs=0.03)
    assert len(xs) * flat.pixel_mm**2 == pytest.approx(60 * 100 * PIXEL_MM**2, rel=0.01)
    assert flat.pixels[ys[len(ys) // 2], xs[len(xs) // 2]].tolist() == [200, 30, 60, 255]


def test_forms_are_filled_by_a_picture_once_or_as_a_pattern():
    fill = np.zeros((20, 20, 4), np.uint8)
    fill[...] = (0, 0, 255, 255)
    fill[:, :10] = (255, 0, 0, 255)
    content = Content(area=shapely.MultiPolygon([shapely.box(-10, -10, 10, 10)]), fill=fill)
    shape = Shape(kind="box", width_mm=20, height_mm=20)
    once = flatten(stack_of([Layer(key="a", shape=shape)], {"a": content}, None), ppi=300).pixels
    red = once[..., 0] > 128
    assert red[:, : red.shape[1] // 2 - 3].mean() > 0.95
    assert red[:, red.shape[1] // 2 + 3 :].mean() < 0.05
    paint = Paint(repeat_mm=4, asset="0" * 64)
    pattern = flatten(stack_of([Layer(key="a", shape=shape, paint=paint)], {"a": content}, None), ppi=300).pixels
    row = pattern[pattern.shape[0] // 2, 3:-3, 0] > 128
    assert np.count_nonzero(row[1:] != row[:-1]) in (9, 10)  # five repeats


def test_the_part_that_is_knocked_out_of_a_picture_is_not_printed():
    pixels = np.full((100, 100, 4), 255, np.uint8)
    layer, content = picture_layer("p", pixels, -50, -50)
    hole = Layer(key="h", shape=Shape(kind="oval", width_mm=4, height_mm=4), joining="subtract", gap_mm=0.5)
    disc = Content(area=shapely.MultiPolygon([shapely.Point(0, 0).buffer(2, quad_segs=64)]))
    stack = stack_of([layer, hole], {"p": content, "h": disc}, None)
    flat = flatten(stack, ppi=300)
    clear = np.count_nonzero(flat.pixels[1:-1, 1:-1, 3] < 128) * PIXEL_MM**2
    assert clear == pytest.approx(np.pi * 2.5**2, rel=0.02)
    assert flat.area.area == pytest.approx((100 * PIXEL_MM) ** 2 - np.pi * 2.5**2, rel=0.001)


@pytest.mark.parametrize(
    ("kind", "text", "width_mm"),
    [
        ("QR", "https://example.org/quillwort?batch=17", 25),
        ("Code 128", "QW-2026-117", 50),
        ("EAN-13", "4006381333931", 35),  # the worked example of the check digit in the GS1 literature, from memory
    ],
)
@pytest.mark.parametrize("turn", [0.0, 7.0])
def test_codes_are_read_back_from_the_print(kind, text, width_mm, turn):
    code = Code(kind=kind, text=text, width_mm=width_mm)
    found = code_area(code)
    layer = Layer(key="c", code=code, turn_deg=turn)
    stack = stack_of([layer], {"c": Content(area=found.dark, ground=found.ground)}, None)
    picture = Image.fromarray(flatten(stack, ppi=300).pixels)
    paper = Image.new("RGBA", picture.size, (70, 90, 80, 255))  # a dark label: the code's own ground must do
    paper.alpha_composite(picture)
    (read,) = zxingcpp.read_barcodes(np.asarray(paper.convert("L")))
    assert read.text == text


def test_codes_that_cannot_be_are_refused_in_words():
    with pytest.raises(BlockedError, match="12 or 13 digits"):
        code_area(Code(kind="EAN-13", text="12ab"))
    with pytest.raises(BlockedError, match="last digit of 4006381333932 should be 1"):
        code_area(Code(kind="EAN-13", text="4006381333932"))
    with pytest.raises(BlockedError, match="Code 128 cannot say"):
        code_area(Code(kind="Code 128", text="茶"))


@pytest.mark.parametrize("shape", ["offset", "box", "rounded box", "disc"])
def test_a_backing_closes_every_gap_and_lies_behind_everything(shape):
    ring = shapely.difference(shapely.Point(0, 0).buffer(10), shapely.Point(0, 0).buffer(6))
    layer = Layer(key="a", shape=Shape(kind="oval", width_mm=20, height_mm=20))
    contents = {"a": Content(area=shapely.MultiPolygon([ring]))}
    bare = stack_of([layer], contents, None)
    assert (len(bare.gaps), len(bare.counters)) == (0, 1)
    backed = stack_of([layer], contents, Backing(shape=shape, grow_mm=1.5, rgb=(250, 240, 230)))
    assert backed.gaps == backed.counters == ()
    assert shapely.distance(backed.area.boundary, ring) == pytest.approx(1.5, abs=0.01) or shape == "rounded box"
    flat = flatten(backed, ppi=300)
    middle = tuple(size // 2 for size in flat.pixels.shape[:2])
    assert flat.pixels[middle].tolist() == [250, 240, 230, 255]


def test_nothing_printed_and_far_too_large_are_said():
    layer = Layer(key="a", shape=Shape(kind="box", width_mm=20, height_mm=20), is_hidden=True)
    with pytest.raises(BlockedError, match="No layer of this design is printed"):
        stack_of([layer], {}, None)
    far = [
        Layer(key=k, shape=Shape(kind="box", width_mm=20, height_mm=20), x_mm=x, y_mm=x)
        for k, x in (("a", -2000), ("b", 2000))
    ]
    box = Content(area=shapely.MultiPolygon([shapely.box(-10, -10, 10, 10)]))
    with pytest.raises(BlockedError, match="bring them closer together"):
        flatten(stack_of(far, {"a": box, "b": box}, None))
