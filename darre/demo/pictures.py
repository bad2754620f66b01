"""Pictures of the demo's prints, drawn by rule: no camera was there. Wet strand leaves rough layers and strings."""

import io
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

WIDTH, HEIGHT, PLATE_Y, LAYER_PX = 960, 720, 640, 7


@dataclass(frozen=True)
class Shape:
    """A print seen from the side: its colour, its height in pixels, its half width at a height of 0..1, and where its
    posts stand (strings hang between them).
    """

    colour: tuple[int, int, int]
    height: int
    half_width: Callable[[float], float]
    at: tuple[int, ...]


def _funnel(h: float) -> float:
    return 42.0 + 12.0 * math.sin(3.0 * h) if h < 0.42 else 42.0 + 12.0 + 150.0 * (h - 0.42) / 0.58


def _worm(h: float) -> float:
    return 74.0 + (18.0 if math.sin(36.0 * h) > 0.1 else 0.0) if 0.14 < h < 0.88 else 40.0


def _front(h: float) -> float:
    return 250.0 - (18.0 if 0.44 < h < 0.56 else 0.0)


SHAPES = {
    "funnel": Shape((188, 199, 197), 430, _funnel, (250, 710)),
    "worm": Shape((214, 205, 182), 380, _worm, (330, 640)),
    "front": Shape((92, 101, 108), 300, _front, (480,)),
}


def _body(canvas: np.ndarray, shape: Shape, at: int, rough: float, rng: np.random.Generator) -> None:
    layers = shape.height // LAYER_PX
    offs = rng.normal(0.0, 0.5 + 3.2 * rough, (layers, 2))
    for row in range(shape.height):
        layer, within = divmod(row, LAYER_PX)
        layer = min(layer, layers - 1)
        half = shape.half_width((layer + 0.5) / layers)
        left, right = at - half + offs[layer, 0], at + half + offs[layer, 1]
        x = np.arange(max(int(left), 0), min(int(right), WIDTH))
        round_ = np.sqrt(np.clip(1.0 - ((x - at) / (half + 4.0)) ** 2, 0.02, 1.0))
        groove = 0.86 if within in (0, LAYER_PX - 1) else 1.0
        grain = rng.normal(0.0, 0.015 + 0.05 * rough, x.size)
        light = np.clip((0.42 + 0.6 * round_) * groove + grain, 0.15, 1.12)
        canvas[PLATE_Y - row, x] = np.clip(np.outer(light, shape.colour), 0, 255)


def _faults(picture: Image.Image, shape: Shape, rng: np.random.Generator) -> None:
    pen = ImageDraw.Draw(picture)
    pale = tuple(min(255, c + 24) for c in shape.colour)
    for at in shape.at:
        for _ in range(120):
            h = rng.uniform(0.05, 0.98)
            x = at + rng.uniform(-0.9, 0.9) * shape.half_width(h)
            y, r = PLATE_Y - h * shape.height, rng.uniform(0.8, 2.6)
            dark = rng.random() < 0.55
            pen.ellipse((x - r, y - r, x + r, y + r), fill=tuple(int(c * 0.45) for c in shape.colour) if dark else pale)
    for _ in range(26 if len(shape.at) > 1 else 0):
        h = rng.uniform(0.12, 0.97)
        a, b = shape.at[0] + shape.half_width(h), shape.at[1] - shape.half_width(h)
        y, sag = PLATE_Y - h * shape.height, rng.uniform(4.0, 34.0)
        steps = np.linspace(0.0, 1.0, 24)
        points = [(a + (b - a) * t, y + sag * 4 * t * (1 - t) + rng.normal(0, 0.4)) for t in steps]
        pen.line(points, fill=pale, width=1 if rng.random() < 0.7 else 2)


@lru_cache(maxsize=16)
def picture(name: str, wet: bool, seed: int = 3) -> bytes:
    """A print on its plate as JPEG, from wet strand or from dry."""
    shape, rng = SHAPES[name], np.random.default_rng(seed)
    fade = np.linspace(1.0, 0.86, HEIGHT)[:, None, None]
    canvas = np.ones((HEIGHT, WIDTH, 3)) * np.array((214, 221, 218)) * fade
    canvas[PLATE_Y:] = np.array((74, 82, 80)) * np.linspace(1.0, 0.7, HEIGHT - PLATE_Y)[:, None, None]
    for at in shape.at:
        _body(canvas, shape, at, 1.0 if wet else 0.0, rng)
    drawn = Image.fromarray(canvas.astype(np.uint8))
    if wet:
        _faults(drawn, shape, rng)
    out = io.BytesIO()
    drawn.filter(ImageFilter.GaussianBlur(0.7)).save(out, "JPEG", quality=90)
    return out.getvalue()
