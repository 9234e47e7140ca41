"""The practice phone: a picture of a practice run's sheet on its carrier, laid as a hand may lay it."""

from __future__ import annotations

import hashlib

import numpy as np

from honest_edge.app.run.conductor import Conductor
from honest_edge.app.run.loaded_look import TURN_OF, grey_of
from honest_edge.app.run.practice import CutSheet
from honest_edge.app.run.sealing import ring_of
from honest_edge.core.values.errors import BlockedError
from honest_edge.files.print_png import page_pixels
from honest_edge.files.read_scan import Scan
from honest_edge.files.typefaces import FontLibrary
from honest_edge.simulator.camera import photograph
from honest_edge.simulator.loaded_mat import Loading, on_carrier

_PPI, _FINE_PPI, _MEGAPIXELS = 150.0, 200.0, 8
_ASKEW_DEG = 0.9  # one standard deviation of a hand: an assumption
_CURLS = 0.15  # chance that an edge is not stuck down: an assumption


def practice_trial_picture(conductor: Conductor, number: int, cut: CutSheet, fonts: FontLibrary) -> Scan:
    """Return a picture of a sheet that was cut, its waste lifted off the carrier.

    Raises:
        FileError: what was sealed is not there any more.
    """
    seal = conductor.seal
    page = grey_of(page_pixels(conductor.print_bytes((number,), fonts), 0, _FINE_PPI))
    copies = seal.pages[conductor.state.sheet(number).page].copies
    rings = [
        ring_of(line).flattened(0.02) + moved
        for copy, moved in zip(copies, cut.moved_mm, strict=True)
        for line in copy.lines
        if line.closed
    ]
    target = on_carrier(page, _FINE_PPI / 25.4, seal.sheet.size_mm, Loading(ground=110.0), rings)
    return Scan(
        name="The practice phone’s picture", grey=photograph(target, 12, 7, tilt_deg=8.0, curl_mm=0.3), ppi=None
    )


def practice_picture(conductor: Conductor, number: int, fonts: FontLibrary) -> Scan:
    """Return a picture of a sheet; the same for the same run, sheet and number of steps.

    Raises:
        BlockedError: nothing is printed on this sheet.
        FileError: what was sealed is not there any more.
    """
    seal = conductor.seal
    if conductor.page_bytes(conductor.state.sheet(number).page) is None:
        raise BlockedError(f"Nothing of sheet {number} is printed: there is nothing to take a picture of")
    words = f"{seal.run} {number} {len(conductor.events)}"
    random = np.random.default_rng(int.from_bytes(hashlib.sha256(words.encode()).digest()[:8]))
    page = grey_of(page_pixels(conductor.print_bytes((number,), fonts), 0, _PPI))
    loading = Loading(
        turn_deg=TURN_OF[seal.sheet.machine.feed_side],
        askew_deg=float(random.normal(0, _ASKEW_DEG)),
        ground=float(random.uniform(70, 130)),
        curls=("left", 3.0) if random.random() < _CURLS else None,
    )
    target = on_carrier(page, _PPI / 25.4, seal.sheet.size_mm, loading)
    seed = int(random.integers(1 << 30))
    picture = photograph(target, _MEGAPIXELS, seed, tilt_deg=float(random.uniform(3, 18)), curl_mm=1.0)
    return Scan(name="The practice phone’s picture", grey=picture, ppi=None)
