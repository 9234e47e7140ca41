"""Files made to burst, grind or reach out, of every format: a picture or one line, at most 10 CPU seconds and 1 GB.

Processor time and greatest memory are the child's own, as the kernel counts them (getrusage(2), proc(5)).
"""

import io
import os
import re
import socket
import struct
import threading
import zlib
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from PIL import Image

from drawings import flat_psd, pdf, svg
from honest_edge.core.values.errors import ArtError
from honest_edge.files.drawing_parent import Renderer
from honest_edge.files.read_art import read_art

pytestmark = pytest.mark.slow

LAUNCHED = Path("/tmp/honest-edge-launched")
MOST_BYTES, MOST_CPU_S = 1_000_000_000, 10


def chunk(kind, data):
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def flat_png(width, height, mode=6):
    """A picture of nothing, which deflate makes a thousandth of its size."""
    row = b"\0" * (1 + width * {0: 1, 2: 3, 6: 4}[mode])
    packed, maker = [], zlib.compressobj(9)
    for _ in range(height):
        packed.append(maker.compress(row))
    packed.append(maker.flush())
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, mode, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", b"".join(packed)) + chunk(b"IEND", b"")


def png_with(kind, data):
    good = saved("PNG")
    return good[:33] + chunk(kind, data) + good[33:]


def saved(kind, size=(64, 64), **options):
    out = io.BytesIO()
    Image.new("RGB", size, (200, 30, 30)).save(out, kind, **options)
    return out.getvalue()


def many_scans(side=1600, scans=4000):
    """A progressive JPEG of one scan many times, each decoded over the whole picture (ISO/IEC 10918-1 annex G)."""
    out = io.BytesIO()
    noise = np.random.default_rng(3).integers(0, 255, (side, side, 3), dtype=np.uint8)
    Image.fromarray(noise).save(out, "JPEG", quality=10, progressive=True)
    data = out.getvalue()
    starts = [found.start() for found in re.finditer(b"\xff\xda", data)]
    last = data[starts[-1] : -2]
    return data[:-2] + min(last, data[starts[1] : starts[2]], key=len) * scans + data[-2:]


def tiff_loop():
    """A TIFF whose directory names itself as the next one."""
    data = bytearray(saved("TIFF"))
    (at,) = struct.unpack("<I", data[4:8])
    (count,) = struct.unpack("<H", data[at : at + 2])
    data[at + 2 + 12 * count : at + 6 + 12 * count] = struct.pack("<I", at)
    return bytes(data)


def tiff_claiming(width, height):
    data = bytearray(saved("TIFF"))
    for tag, value in ((256, width), (257, height), (278, height)):
        at = data.find(struct.pack("<HH", tag, 4))
        at = at if at >= 0 else data.find(struct.pack("<HH", tag, 3))
        data[at : at + 12] = struct.pack("<HHII", tag, 4, 1, value)
    return bytes(data)


def bmp_rle():
    """Eight-bit run lengths that fill 60 million pixels from a few bytes each row."""
    width = height = 7_700
    rows = (b"\xff\x01" * (width // 255 + 1) + b"\0\0") * height
    palette = bytes(1024)
    head = struct.pack("<IiiHHIIiiII", 40, width, height, 1, 8, 1, len(rows), 2835, 2835, 256, 0)
    size = 14 + 40 + 1024
    return b"BM" + struct.pack("<IHHI", size + len(rows), 0, 0, size) + head + palette + rows


def animated_webp():
    out = io.BytesIO()
    frames = [Image.new("RGB", (600, 600), (n % 256, 30, 30)) for n in range(300)]
    frames[0].save(out, "WEBP", save_all=True, append_images=frames[1:], duration=10)
    return out.getvalue()


def pdf_with(change, content=b"1 0 0 rg 20 10 60 40 re f"):
    made = pikepdf.open(io.BytesIO(pdf(content=content)))
    change(made)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def script(made):
    action = pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS="while (true) { app.launchURL('http://127.0.0.1:9/') }")
    made.Root.OpenAction = action


def vast_page(made):
    made.pages[0].obj.MediaBox = [0, 0, 10**9, 10**9]


def launch(made):
    made.Root.OpenAction = pikepdf.Dictionary(S=pikepdf.Name.Launch, F=f"/bin/touch {LAUNCHED}")


def nested_forms(made):
    """Each form draws the next ten times: ten to the eighth squares."""
    inner = made.make_stream(b"0 0 1 1 re f", Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 9, 9])
    for _ in range(8):
        resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(A=inner))
        inner = made.make_stream(
            b"/A Do " * 10,
            Type=pikepdf.Name.XObject,
            Subtype=pikepdf.Name.Form,
            BBox=[0, 0, 9, 9],
            Resources=resources,
        )
    made.pages[0].Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(A=inner))
    made.pages[0].Contents = made.make_stream(b"/A Do")


def xref_loop():
    """A PDF whose cross-reference section names itself as the one before."""
    data = pdf(object_stream_mode=pikepdf.ObjectStreamMode.disable)
    at = data.rindex(b"xref\n", 0, data.rindex(b"startxref"))
    return data.replace(b"trailer <<", b"trailer << /Prev %d " % at)


def deep_pdf():
    return pdf(content=b"q " * 400_000 + b"0 0 9 9 re f")


def big_images():
    """One small stream that says it is a picture of 1.2 GB, and inflates to a quarter of that."""
    made = pikepdf.open(io.BytesIO(pdf()))
    packed, maker = [], zlib.compressobj(9)
    for _ in range(300):
        packed.append(maker.compress(bytes(1_000_000)))
    image = pikepdf.Stream(made, b"".join([*packed, maker.flush()]))
    image.update(pikepdf.Dictionary(
        Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Image, Width=20_000, Height=20_000, BitsPerComponent=8,
        ColorSpace=pikepdf.Name.DeviceRGB,
    ))  # fmt: skip
    image.Filter = pikepdf.Name.FlateDecode
    made.pages[0].Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(A=image))
    made.pages[0].Contents = made.make_stream(b"100 0 0 60 0 0 cm /A Do")
    out = io.BytesIO()
    made.save(out, compress_streams=False)
    return out.getvalue()


def grinding_svg():
    blur = '<feGaussianBlur stdDeviation="400"/><feMorphology operator="dilate" radius="300"/>' * 400
    drawn = '<g filter="url(#f)"><path d="M0 0h9v9z"/></g>'
    return svg(f'<filter id="f" x="-9" y="-9" width="30" height="30">{blur}</filter>{drawn}')


def doubling_uses():
    """Each use draws the one before twice: two to the twenty-fifth."""
    levels = "".join(
        f'<g id="g{n}"><use xlink:href="#g{n - 1}"/><use xlink:href="#g{n - 1}" x="1"/></g>' for n in range(1, 26)
    )
    return svg(f'<g id="g0"><path d="M0 0h9v9z"/></g>{levels}')


def reaching_svg():
    places = ("http://127.0.0.1:{port}/a.png", "file:///etc/passwd", "/etc/passwd", "ftp://127.0.0.1:{port}/a")
    return "".join(f'<image xlink:href="{place}" width="9" height="9"/>' for place in places)


def psd_claiming(width, height):
    good = flat_psd(8)
    return good[:14] + struct.pack(">II", height, width) + good[22:]


BOMBS = {
    "flat.png": lambda: flat_png(8900, 8900, 0),
    "over.png": lambda: flat_png(10_900, 10_900, 0),
    "text.png": lambda: png_with(b"zTXt", b"a\0\0" + zlib.compress(bytes(200_000_000), 9)),
    "profile.png": lambda: png_with(b"iCCP", b"a\0\0" + zlib.compress(bytes(200_000_000), 9)),
    "scans.jpg": many_scans,
    "loop.tiff": tiff_loop,
    "huge.tiff": lambda: tiff_claiming(60_000, 60_000),
    "long.tiff": lambda: tiff_claiming(8_000, 9_000),
    "rle.bmp": bmp_rle,
    "moving.webp": animated_webp,
    "grinding.svg": grinding_svg,
    "doubling.svg": doubling_uses,
    "vast.svg": lambda: svg('<rect width="1e30" height="1e30"/>', 'width="5000mm" height="1mm" viewBox="0 0 1e9 1e-9"'),
    "paths.svg": lambda: svg(f'<path stroke="red" stroke-dasharray="0.0001" d="M0 0{"l9 9" * 90_000}"/>'),
    "script.pdf": lambda: pdf_with(script),
    "launch.pdf": lambda: pdf_with(launch),
    "locked.pdf": lambda: pdf(encryption=pikepdf.Encryption(user="secret", owner="other")),
    "open.pdf": lambda: pdf(encryption=pikepdf.Encryption(user="", owner="other")),
    "box.pdf": lambda: pdf_with(vast_page),
    "forms.pdf": lambda: pdf_with(nested_forms),
    "loop.pdf": xref_loop,
    "deep.pdf": deep_pdf,
    "image.pdf": big_images,
    "huge.psd": lambda: psd_claiming(30_000, 30_000),
    "long.psd": lambda: psd_claiming(300_000, 8),
}


@pytest.fixture
def renderer(monkeypatch):
    made = Renderer(most=1)
    monkeypatch.setattr("honest_edge.files.drawing_parent.RENDERER", made)
    yield made
    made.close()


@pytest.fixture
def listener():
    """A port that counts who connects."""
    server, calls = socket.create_server(("127.0.0.1", 0)), []

    def serve():
        while True:
            try:
                calls.append(server.accept()[0])
            except OSError:
                return

    thread = threading.Thread(target=serve, daemon=True)
    thread.start()
    yield server.getsockname()[1], calls
    server.close()


class Peak(threading.Thread):
    """Looks again and again how much memory a process has had at most."""

    def __init__(self, pid):
        super().__init__(daemon=True)
        self.bytes, self._status, self._ended = 0, Path(f"/proc/{pid}/status"), threading.Event()

    def look(self):
        try:
            found = re.search(r"VmHWM:\s+(\d+) kB", self._status.read_text())
        except OSError:
            return
        self.bytes = max(self.bytes, int(found[1]) * 1000 if found else 0)

    def run(self):
        while not self._ended.wait(0.02):
            self.look()

    def end(self):
        self.look()
        self._ended.set()
        self.join()
        return self.bytes


def cost_of(renderer, data, name):
    """Return what reading came to, CPU seconds of the child, and its greatest memory."""
    before = os.times()
    (child,) = renderer._free.queue
    peak = Peak(child.running().pid)
    peak.start()
    try:
        art = read_art(data, name)
        said = f"{art.width_px} x {art.height_px} px"
    except ArtError as error:
        said = str(error)
        assert "\n" not in said
    most = peak.end()
    child.stop()
    after = os.times()  # the child was waited for: its time is counted now
    return said, after.children_user + after.children_system - before.children_user - before.children_system, most


LONG = ("grinding.svg",)
"""What is only ended by the limit of processor time; ``test_drawings`` ends one by a limit of a second."""


@pytest.mark.parametrize("name", [pytest.param(name, marks=[pytest.mark.long] * (name in LONG)) for name in BOMBS])
def test_a_bomb_ends_in_a_picture_or_one_line_within_its_limits(name, renderer, capsys):
    data = BOMBS[name]()
    said, seconds, peak = cost_of(renderer, data, name)
    with capsys.disabled():
        print(f"\n{name}: {len(data) / 1e6:.1f} MB, {seconds:.1f} CPU s, {peak / 1e6:.0f} MB: {said[:90]}")
    assert seconds <= MOST_CPU_S + 2  # its start is counted, too
    assert 0 < peak <= MOST_BYTES
    assert not LAUNCHED.exists()


def test_a_drawing_that_names_files_and_addresses_gets_none(renderer, listener):
    port, calls = listener
    art = read_art(svg(reaching_svg().format(port=port)), "a.svg")
    assert not calls
    assert art.notes or not art.pixels[..., 3].any()
