"""Peak memory of preparing 12 copies of a 4-inch artwork at 600 ppi. Bound: below 600 MB."""

from __future__ import annotations

import io
import resource
import subprocess
import sys
import tempfile
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

SIDE_PX = 2400
BOUND_MB = 600


def artwork() -> bytes:
    random = np.random.default_rng(8)
    pixels = np.zeros((SIDE_PX, SIDE_PX, 4), np.uint8)
    pixels[..., :3] = cv2.GaussianBlur(random.integers(0, 255, (SIDE_PX, SIDE_PX, 3), dtype=np.uint8), (0, 0), 5)
    alpha = np.zeros((SIDE_PX, SIDE_PX), np.uint8)
    cv2.circle(alpha, (SIDE_PX // 2, SIDE_PX // 2), SIDE_PX // 2 - 40, 255, -1, cv2.LINE_AA)
    pixels[..., 3] = alpha
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", dpi=(600, 600))
    return out.getvalue()


def main() -> bool:
    with tempfile.TemporaryDirectory() as folder:
        art = Path(folder) / "art.png"
        art.write_bytes(artwork())
        options = ["--width", "4in", "--school", "bleed", "--copies", "12", "--out", f"{folder}/out"]
        command = [sys.executable, "-m", "honest_edge", "prepare", str(art), *options]
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
    peak_mb = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(f"peak {peak_mb:.0f} MB   bound {BOUND_MB} MB")
    return peak_mb < BOUND_MB


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
