"""Pictures rendered by the tests from exact geometry, so that the truth is known."""

import io
import math
from functools import cache, lru_cache

import cv2
import numpy as np
from PIL import Image

PPI = 300
PIXEL_UM = 25_400 / PPI


def coverage(polygon: np.ndarray, width: int, height: int, samples: int = 16) -> np.ndarray:
    """Area share of each pixel inside a polygon given in pixels, by supersampling."""
    return _coverage(np.asarray(polygon, float).tobytes(), width, height, samples).copy()


@lru_cache(16)
def _coverage(places: bytes, width: int, height: int, samples: int) -> np.ndarray:
    polygon = np.frombuffer(places).reshape(-1, 2)
    fine = np.zeros((height * samples, width * samples), np.uint8)
    points = np.rint((polygon * samples - 0.5) * 64).astype(np.int32)
    cv2.fillPoly(fine, [points], 255, shift=6)
    return fine.reshape(height, samples, width, samples).mean(axis=(1, 3), dtype=np.float64) / 255


def disc(radius: float, x: float, y: float) -> np.ndarray:
    angle = np.linspace(0, 2 * np.pi, 4000, endpoint=False)
    return np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1)


def turned(polygon: np.ndarray, degrees: float, x: float, y: float) -> np.ndarray:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return polygon @ np.array([[c, s], [-s, c]]) + (x, y)


def square(half: float) -> np.ndarray:
    return np.array([[-half, -half], [half, -half], [half, half], [-half, half]], dtype=float)


def star(radius: float, tip_degrees: float, tips: int = 5) -> np.ndarray:
    """A star whose tips, at even indices, have the given angle."""
    half, step = math.radians(tip_degrees / 2), math.pi / tips
    inner = radius * math.sin(half) / math.sin(math.pi - half - step)
    return np.array(
        [
            (r * math.cos(k * step), r * math.sin(k * step))
            for k in range(2 * tips)
            for r in (radius if k % 2 == 0 else inner,)
        ]
    )


def rgba(cover: np.ndarray, colour: tuple[int, int, int] = (40, 90, 160)) -> np.ndarray:
    pixels = np.zeros((*cover.shape, 4), np.uint8)
    pixels[..., :3] = colour
    pixels[..., 3] = np.rint(cover * 255)
    return pixels


def levels(cover: np.ndarray) -> np.ndarray:
    """Shares as the 8-bit levels of a picture."""
    return np.rint(cover * 255).astype(np.uint8)


def on_background(cover: np.ndarray, colour: tuple[int, int, int], background: tuple[int, int, int]) -> np.ndarray:
    mixed = cover[..., None] * np.array(colour) + (1 - cover[..., None]) * np.array(background)
    return np.rint(mixed).astype(np.uint8)


def png(pixels: np.ndarray, **options: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", **options)
    return out.getvalue()


@cache
def disc_png(radius: float = 100.0, size: int = 240, ppi: float | None = PPI) -> bytes:
    """A disc in the middle of a transparent square picture."""
    options = {} if ppi is None else {"dpi": (ppi, ppi)}
    return png(rgba(coverage(disc(radius, size / 2, size / 2), size, size)), **options)
