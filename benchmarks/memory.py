"""Peak memory of preparing 12 copies of a 4-inch artwork at 600 ppi, and of the window with the demo job at rest.

Bounds: below 600 MB, and below 450 MB.
"""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

SIDE_PX = 2400
BOUND_MB, REST_MB = 600, 450
REST_S = 5.0  # without work, longer than the window waits before it gives memory back


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
    rest_mb = at_rest()
    print(f"demo job at rest {rest_mb:.0f} MB   bound {REST_MB} MB")
    return peak_mb < BOUND_MB and rest_mb < REST_MB


def at_rest() -> float:
    """Return the window's resident memory once it has computed the demo job and done nothing for a while."""
    with tempfile.TemporaryDirectory() as home:
        folders = dict.fromkeys(("HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME"), home)
        environment = {**os.environ, **folders, "QT_QPA_PLATFORM": "offscreen"}
        window = subprocess.Popen([sys.executable, "-m", "honest_edge", "--demo"], env=environment)
        try:
            worked, since = -1.0, time.monotonic()
            while time.monotonic() - since < REST_S:
                time.sleep(0.5)
                now = worked_s(window.pid)
                if now - worked > 0.05:
                    worked, since = now, time.monotonic()
            status = Path(f"/proc/{window.pid}/status").read_text()
        finally:
            window.kill()
            window.wait()
    return int(status.split("VmRSS:")[1].split()[0]) / 1000


def worked_s(pid: int) -> float:
    """Return a process's own processor time (proc(5))."""
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


if __name__ == "__main__":
    sys.exit(0 if main() else 1)
