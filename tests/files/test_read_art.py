"""Reading pictures: every trap of the formats, with files made here."""

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image, ImageCms
from PIL.TiffImagePlugin import IFDRational

from honest_edge.core.values.errors import ArtError
from honest_edge.files.read_art import read_art
from honest_edge.files.read_input import read_picture


def saved(image, kind, **options):
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


def sample(mode="RGB", size=(40, 30)):
    picture = Image.new("RGB", size, "white")
    picture.paste((200, 40, 40), (5, 5, 30, 20))
    return picture.convert(mode)


def test_a_png_states_its_size_in_phys():
    # PNG (Third Edition) 11.3.4.3: pHYs counts pixels per metre when its unit is 1
    art = read_art(saved(sample(), "PNG", dpi=(200, 200)), "a.png")
    assert art.stated_ppi == pytest.approx(200, abs=0.01)
    assert art.size_source == "PNG pHYs"
    assert art.stated_width_mm == pytest.approx(40 / 200 * 25.4, abs=0.001)


def test_phys_without_a_unit_is_only_a_shape():
    data = saved(sample(), "PNG")
    chunk = b"pHYs" + struct.pack(">IIB", 11811, 11811, 0)
    chunk = struct.pack(">I", 9) + chunk + struct.pack(">I", zlib.crc32(chunk))
    art = read_art(data[:33] + chunk + data[33:], "a.png")
    assert (art.stated_ppi, art.size_source) == (300, "assumed")


def test_exif_is_believed_over_a_jfif_of_72():
    exif = Image.Exif()
    exif[282], exif[283], exif[296] = IFDRational(240), IFDRational(240), 2
    art = read_art(saved(sample(), "JPEG", dpi=(72, 72), exif=exif), "a.jpg")
    assert (round(art.stated_ppi), art.size_source) == (240, "EXIF")


def test_a_jfif_of_its_own_is_believed():
    art = read_art(saved(sample(), "JPEG", dpi=(150, 150)), "a.jpg")
    assert (round(art.stated_ppi), art.size_source) == (150, "JFIF")


def test_a_turned_photograph_is_set_upright_with_its_resolution():
    exif = Image.Exif()
    exif[274], exif[282], exif[283], exif[296] = 6, IFDRational(100), IFDRational(200), 2
    art = read_art(saved(sample(), "JPEG", exif=exif), "a.jpg")
    assert (art.width_px, art.height_px) == (30, 40)
    assert round(art.stated_ppi) == 200
    assert any("square" in note for note in art.notes)


@pytest.mark.parametrize(("kind", "mode"), [("PNG", "RGBA"), ("PNG", "L"), ("JPEG", "RGB"), ("TIFF", "RGB")])
def test_a_first_look_has_the_size_and_colours_of_the_whole(kind, mode):
    exif = Image.Exif()
    exif[274] = 6  # on its side (EXIF 2.32, 4.6.4: Orientation)
    data = saved(sample(mode, (403, 301)), kind, dpi=(250, 250), exif=exif)
    look, whole = read_art(data, "a", look_px=100), read_art(data, "a")
    assert (whole.width_px, whole.height_px, whole.look_of_px) == (301, 403, 0)
    assert (look.width_px, look.height_px, look.look_of_px) == (61, 81, 301)
    assert look.stated_width_mm == whole.stated_width_mm
    assert (look.pixels == read_art(data, "a", look_px=100).pixels).all()
    near = whole.pixels[2::5, 2::5].astype(int) - look.pixels[: len(whole.pixels[2::5]), : len(whole.pixels[0, 2::5])]
    assert np.median(np.abs(near)) == 0
    assert (whole.pixels == read_art(data, "a").pixels).all()  # the first time it was kept from the look


def test_what_is_small_or_cannot_be_averaged_is_looked_at_whole():
    for picture in (sample(), sample("P", (400, 300)), Image.fromarray(np.full((300, 400), 32768, np.uint16))):
        look, whole = read_art(saved(picture, "PNG"), "a", look_px=100), read_art(saved(picture, "PNG"), "a")
        assert look.look_of_px == 0
        assert (look.pixels == whole.pixels).all()


def test_a_damaged_picture_is_refused_at_the_first_look():
    data = saved(sample("RGB", (400, 300)), "PNG", compress_level=0)
    with pytest.raises(ArtError, match="damaged or cut short"):
        read_art(data[: len(data) // 2], "a.png", look_px=100)


def test_16_bit_grey_is_scaled_not_clipped():
    values = np.full((20, 20), 32768, np.uint16)
    art = read_art(saved(Image.fromarray(values), "PNG"), "a.png")
    assert abs(int(art.pixels[5, 5, 0]) - 128) <= 1
    assert any("16 bits" in note for note in art.notes)


@pytest.mark.parametrize(
    ("image", "kind", "name"),
    [
        (sample("1"), "PNG", "one-bit.png"),
        (sample("P"), "PNG", "palette.png"),
        (sample("L"), "JPEG", "grey.jpg"),
        (sample("CMYK"), "JPEG", "cmyk.jpg"),
        (sample("CMYK"), "TIFF", "cmyk.tif"),
        (sample(), "BMP", "plain.bmp"),
        (sample("RGBA"), "WEBP", "plain.webp"),
        (sample("RGBA"), "TIFF", "plain.tiff"),
    ],
)
def test_every_kind_becomes_rgba(image, kind, name):
    options = {"lossless": True} if kind == "WEBP" else {}
    art = read_art(saved(image, kind, **options), name)
    assert art.pixels.shape == (30, 40, 4)
    assert art.pixels.dtype == np.uint8
    assert art.pixels[0, 0, :3].min() > 240
    assert int(art.pixels[12, 12, 0]) - int(art.pixels[12, 12, 1]) > 80 or image.mode in "1L"


def test_palette_transparency_is_kept():
    picture = Image.new("P", (20, 20), 0)
    picture.putpalette([255, 0, 0, 0, 255, 0])
    picture.paste(1, (5, 5, 15, 15))
    art = read_art(saved(picture, "PNG", transparency=0), "a.png")
    assert art.pixels[0, 0, 3] == 0
    assert art.pixels[10, 10, 3] == 255


def test_colour_profiles_are_converted_and_said_so():
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    art = read_art(saved(sample(), "PNG", icc_profile=lab[:100]), "a.png")
    assert any("damaged" in note for note in art.notes)
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    plain = read_art(saved(sample(), "PNG", icc_profile=srgb), "a.png")
    assert np.abs(plain.pixels.astype(int) - np.asarray(sample("RGBA"))).max() <= 1


def test_only_the_first_picture_of_an_animation_is_used():
    frames = [sample(), Image.new("RGB", (40, 30), "blue")]
    data = saved(frames[0], "WEBP", save_all=True, append_images=frames[1:], duration=100, lossless=True)
    art = read_art(data, "moving.webp")
    assert any("first of its 2 pictures" in note for note in art.notes)


def test_a_wrong_extension_is_read_and_said_so():
    art = read_art(saved(sample(), "PNG"), "photo.jpg")
    assert any("PNG in spite of its name" in note for note in art.notes)


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "TIFF", "BMP", "WEBP"])
@pytest.mark.parametrize("share", [0.0, 0.02, 0.3, 0.7])
def test_a_file_cut_short_is_refused_in_one_line(kind, share):
    picture = Image.fromarray(np.random.default_rng(2).integers(0, 255, (90, 90, 3), dtype=np.uint8))
    data = saved(picture, kind)
    with pytest.raises(ArtError) as caught:
        read_art(data[: int(len(data) * share)], f"cut.{kind.lower()}")
    assert "\n" not in str(caught.value)


def test_too_large_and_too_small_are_refused_before_decoding():
    data = bytearray(saved(sample(), "PNG"))
    data[16:24] = struct.pack(">II", 60_000, 60_000)
    data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    with pytest.raises(ArtError, match="60000 × 60000 px, more than 80 million"):
        read_art(bytes(data), "huge.png")
    with pytest.raises(ArtError, match="only 1 × 1 px"):
        read_art(saved(sample(size=(1, 1)), "PNG"), "dot.png")


def test_what_is_no_picture_is_refused(tmp_path):
    with pytest.raises(ArtError, match="no picture that can be read"):
        read_art(b"hello, this is text" * 10, "note.png")
    with pytest.raises(ArtError, match="is a folder"):
        read_picture(tmp_path)
    with pytest.raises(ArtError, match="does not exist"):
        read_picture(tmp_path / "nowhere.png")
    (tmp_path / "empty.png").touch()
    with pytest.raises(ArtError, match="is empty"):
        read_picture(tmp_path / "empty.png")


@pytest.mark.parametrize("seed", range(60))
def test_a_damaged_file_is_read_or_refused_never_anything_else(seed):
    random = np.random.default_rng(seed)
    kind = ("PNG", "JPEG", "TIFF", "BMP", "WEBP")[seed % 5]
    data = bytearray(saved(sample(), kind))
    for _ in range(1 + seed % 7):
        data[random.integers(len(data))] = random.integers(256)
    result = outcome(bytes(data), f"damaged.{kind.lower()}")
    assert "\n" not in result


def outcome(data, name):
    """What a user would be told: the size, or the one line of the error; any other exception fails the test."""
    try:
        return str(read_art(data, name).pixels.shape)
    except ArtError as error:
        return str(error)


def test_a_jfif_in_dots_per_centimetre_is_converted():
    # JFIF 1.02 (ITU-T T.871), 10.1: units 2 are dots per cm
    data = saved(sample(), "JPEG", dpi=(150, 150))
    at = data.index(b"JFIF\0") + 7
    assert data[at : at + 5] == struct.pack(">BHH", 1, 150, 150)
    art = read_art(data[:at] + struct.pack(">BHH", 2, 80, 80) + data[at + 5 :], "a.jpg")
    assert art.stated_ppi == pytest.approx(80 * 2.54)
    assert art.size_source == "JFIF"
