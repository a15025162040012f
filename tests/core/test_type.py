"""Typefaces, shaping in many scripts, and the surface of type, against independent sources."""

import io

import cv2
import numpy as np
import pytest
import uharfbuzz as hb
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import ChangeText, GiveStep, SetProperty, SetValue, StyleLine, StyleRange
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Fixed
from idle_comet.core.picture import SvgError, covered, distance_outside, outline_path, read_svg
from idle_comet.core.project.model import Media, Styled
from idle_comet.core.project.styled import kept
from idle_comet.core.steps import KINDS
from idle_comet.core.type import Setting, faces, families, lay_out
from idle_comet.media.faces import FaceError, import_face, read_face, use_faces

from .typed import PAINTER, edited, frame, ink_box, step, title

SCRIPTS = {
    "Latn": "Ágota ffi office",
    "Grek": "Αργή συγκομιδή",
    "Cyrl": "Медленный урожай",
    "Arab": "الحصاد البطيء",
    "Hebr": "הקציר האיטי",
    "Deva": "क्षत्रिय धीमी",
    "Beng": "ধীর ফসল",
    "Taml": "மெதுவான",
    "Thai": "เก็บเกี่ยว",
    "Geor": "ნელი მოსავალი",
    "Armn": "Դանդաղ",
    "Hani": "缓慢的收获",
    "Hang": "느린 수확",
    "Kana": "ゆっくり",
    "Zsye": "👩🏽‍🌾🐝🇫🇮",
}


@pytest.mark.parametrize("script", SCRIPTS)
def test_glyphs_stand_where_a_plain_shaping_run_puts_them(script):
    words = SCRIPTS[script]
    layout = lay_out(words, Setting("archivo", 500))
    assert not layout.missing
    # The same words, run by run of one face, straight through HarfBuzz.
    runs = []
    for glyph in layout.glyphs:
        if not runs or runs[-1][0] is not glyph.face:
            runs.append((glyph.face, []))
        runs[-1][1].append(glyph)
    begins = sorted(min(glyph.cluster for glyph in glyphs) for _, glyphs in runs)
    for face, glyphs in runs:
        start = min(glyph.cluster for glyph in glyphs)
        end = next((place for place in begins if place > start), len(words))
        buffer = hb.Buffer()
        buffer.add_codepoints([ord(each) for each in words], start, end - start)
        buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
        buffer.guess_segment_properties()
        hb.shape(face.hb_font, buffer)
        x, plain = 0.0, []
        for info, at in zip(buffer.glyph_infos, buffer.glyph_positions):
            plain.append((info.codepoint, info.cluster, x + at.x_offset / face.units, -at.y_offset / face.units))
            x += at.x_advance / face.units
        left = glyphs[0].x - plain[0][2]
        ours = [(glyph.gid, glyph.cluster, glyph.x - left, glyph.y) for glyph in glyphs]
        assert [each[:2] for each in ours] == [each[:2] for each in plain]
        assert np.allclose([each[2:] for each in ours], [each[2:] for each in plain], atol=1e-9)


def test_every_shipped_family_has_a_licence_a_name_and_europes_letters():
    assert len(families()) >= 12 and len({each.character for each in families().values()}) == len(families())
    for family in families().values():
        licence = family.files[0].parent / "LICENSE.txt"
        assert "Open Font License" in licence.read_text(errors="replace") or "OFL" in licence.read_text(
            errors="replace"
        ), family.id
        assert not lay_out("Ágota Ýrsson-Jędrzejczyk ŐŰ ğ ș €", Setting(family.id, 400)).missing, family.id


def test_axes_of_a_variable_face_move_continuously():
    film = title("HEAVY", size=120, typeface="archivo")
    inks = [
        frame(
            edited(film, SetProperty(clip="t", step="content", name="weight", property=Fixed(value=weight))), 50
        ).sum()
        for weight in range(200, 900, 100)
    ]
    assert all(a < b for a, b in zip(inks, inks[1:]))
    wide = [
        stand(
            evaluate(edited(film, SetProperty(clip="t", step="content", name="width", property=Fixed(value=width))), 50)
            .layers[0]
            .content,
            1280,
            720,
        ).ink
        for width in (70, 100, 125)
    ]
    assert [box.x1 - box.x0 for box in wide] == sorted(box.x1 - box.x0 for box in wide)


def test_mixed_directions_stand_in_their_visual_order():
    layout = lay_out("the word שלום stands", Setting("archivo", 500))
    at = {layout.text[one.start : one.end]: one.box.x0 for one in layout.units["word"]}
    assert at["the"] < at["word"] < at["שלום"] < at["stands"]
    rtl = lay_out("שלום 12 עולם", Setting("archivo", 500))
    at = {rtl.text[one.start : one.end]: one.box.x0 for one in rtl.units["word"]}
    assert at["שלום"] > at["12"] > at["עולם"]


@pytest.mark.parametrize(
    "words", ["\u200b\u200d", "\u0301\u0301", "", "   ", "\u202e abc", "\U000f0000", "a\u0301\u0302\u0303" * 30]
)
def test_odd_texts_are_laid_out_and_painted(words):
    film = edited(title("x"), ChangeText(clip="t", text=words))
    assert frame(film, 50, 320, 180).shape == (180, 320)


# ---- parts set in their own way


def test_parts_have_their_own_size_colour_and_typeface():
    film = title("Ottoline Brask\nhead beekeeper", size=60, leading=1.3)
    film = edited(
        film,
        StyleLine(clip="t", line=1, style=Styled(start=0, end=0, size=0.5, colour="#ff0000", typeface="fraunces")),
        StyleRange(clip="t", style=Styled(start=0, end=8, weight=900)),
    )
    layer = evaluate(film, 50).layers[0].content
    layout = stand(layer, 1280, 720).layout
    upper, lower = (one.ink for one in layout.units["line"])
    assert (lower.y1 - lower.y0) < (upper.y1 - upper.y0) and layout.colours == {"#ff0000"}
    # The second baseline lies as far below as its own size asks for.
    assert layout.lines[1].baseline == pytest.approx(1.3 * 0.5)
    assert len({glyph.face for glyph in layout.glyphs}) >= 3


@settings(max_examples=120)
@given(
    st.text("ab c\n", max_size=12),
    st.text("xy \n", max_size=5),
    st.integers(0, 12),
    st.integers(0, 12),
    st.integers(0, 12),
    st.integers(0, 12),
)
def test_parts_stay_on_their_words_while_others_are_typed(words, typed, start, end, at, until):
    start, end = sorted((min(start, len(words)), min(end, len(words))))
    at, until = sorted((min(at, len(words)), min(until, len(words))))
    if start == end:
        return
    after = words[:at] + typed + words[until:]
    ranges = kept((Styled(start=start, end=end, weight=900),), words, after)
    for each in ranges:
        assert 0 <= each.start < each.end <= len(after)
    if until <= start and ranges and "\n" not in words + typed and after != words:
        assert after[ranges[0].start : ranges[0].end].endswith(words[start:end][-1:])


# ---- pixels of the core's own


def test_areas_of_outlines_are_exact():
    turn = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    for cx, cy, radius in ((40.3, 30.7, 20.2), (31.5, 33.1, 0.4), (2.0, 30.0, 12.0)):
        x, y = cx + radius * np.cos(turn), cy + radius * np.sin(turn)
        pieces = np.stack([x, y, np.roll(x, -1), np.roll(y, -1)], 1)
        area = covered(pieces, 64, 64)
        fine = np.zeros((64 * 32, 64 * 32), np.uint8)
        cv2.fillPoly(fine, [np.round(np.stack([x, y], 1) * 32 * 256 - 128).astype(np.int32)], 1, shift=8)
        brute = fine.reshape(64, 32, 64, 32).mean((1, 3))
        assert np.abs(area - brute).max() < 0.06
        if 2 < cx - radius:
            assert area.sum() == pytest.approx(np.pi * radius**2, rel=2e-4)


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0.2, 9), st.floats(0.2, 9))
def test_a_rectangle_covers_its_area_wherever_it_stands(dx, dy, wide, high):
    x0, y0, x1, y1 = 4 + dx, 3 + dy, 4 + dx + wide, 3 + dy + high
    area = covered(np.array([[x0, y0, x1, y0], [x1, y0, x1, y1], [x1, y1, x0, y1], [x0, y1, x0, y0]]), 16, 16)
    columns = np.clip(np.minimum(np.arange(1, 17), x1) - np.maximum(np.arange(16), x0), 0, 1)
    rows = np.clip(np.minimum(np.arange(1, 17), y1) - np.maximum(np.arange(16), y0), 0, 1)
    assert np.abs(area - np.outer(rows, columns)).max() < 1e-5


def test_distances_to_an_edge_are_right_to_a_fraction_of_a_pixel():
    y, x = np.mgrid[0:120, 0:120]
    far = np.hypot(x + 0.5 - 60.2, y + 0.5 - 58.7) - 25.3
    turn = np.linspace(0, 2 * np.pi, 2000, endpoint=False)
    cx, cy = 60.2 + 25.3 * np.cos(turn), 58.7 + 25.3 * np.sin(turn)
    alpha = (covered(np.stack([cx, cy, np.roll(cx, -1), np.roll(cy, -1)], 1), 120, 120) * 255 + 0.5).astype(np.uint8)
    found = distance_outside(alpha)
    outside = far > 0.5
    assert np.abs(found - far)[outside].max() < 0.18 and np.abs(found - far)[outside].mean() < 0.04
    assert np.abs(found + 0.5 - ndimage.distance_transform_edt(alpha == 0))[outside].max() < 1.2


# ---- surface


def surfaced(kind, words="HONEY", size=120, **values):
    film = title(words, kind, size=size)
    return edited(
        film,
        *(SetProperty(clip="t", step="s", name=name, property=Fixed(value=value)) for name, value in values.items()),
    )


def test_an_outline_is_as_wide_as_it_says_and_leaves_the_ink():
    plain, outlined = frame(title("HONEY", size=120), 50), frame(surfaced("outline", width=6.0, colour="#ffffff"), 50)
    inner, outer = ink_box(plain, 127), ink_box(outlined, 127)
    assert [b - a for a, b in zip(outer[:2], inner[:2])] == pytest.approx([6, 6], abs=1) and [
        a - b for a, b in zip(outer[2:], inner[2:])
    ] == pytest.approx([6, 6], abs=1)
    assert (outlined[plain > 250] > 250).all()
    hollow = frame(surfaced("outline", width=6.0, colour="#ffffff", fill=0.0), 50)
    assert hollow[plain > 250].mean() < 10 and hollow.max() > 250


def test_a_shadow_lies_where_it_falls_as_a_gaussian_of_the_ink():
    film = surfaced("shadow", distance=30.0, angle=90.0, blur=0.0, colour="#ffffff", strength=1.0)
    plain, both = frame(title("HONEY", size=120), 50), frame(film, 50)
    assert (
        np.abs(both - np.maximum(plain, np.roll(plain, 30, 0))).max() <= 130
        and ink_box(both)[3] - ink_box(plain)[3] == 30
    )
    soft = frame(surfaced("shadow", distance=0.0, blur=8.0, colour="#ffffff", strength=1.0), 50)
    spread = ndimage.gaussian_filter(plain, 8)
    far = plain == 0
    assert np.abs(soft - spread)[far].max() < 3


@pytest.mark.parametrize("behind", ["the block", "each line", "each word"])
def test_a_backing_follows_the_words(behind):
    film = surfaced("backing", "Isko\nhive carpenter", pad_x=20.0, pad_y=8.0, colour="#ffffff", strength=1.0, size=50)
    film = step(film, choices={"behind": behind})
    for words in ("Isko\nhive carpenter", "Wren Hallowes\nmaker", "A"):
        now = edited(film, ChangeText(clip="t", text=words))
        layout = stand(evaluate(now, 50).layers[0].content, 1280, 720)
        boxes = [
            one.box.through(layout.matrix)
            for one in layout.layout.units[{"the block": "all", "each line": "line", "each word": "word"}[behind]]
        ]
        left, right = min(box.x0 for box in boxes) - 20, max(box.x1 for box in boxes) + 20
        seen = ink_box(frame(now, 50), 127)
        assert (seen[0], seen[2]) == pytest.approx((left, right), abs=1)


def test_a_backing_of_two_colours_runs_from_one_to_the_other_however_far_it_is_open():
    film = surfaced(
        "backing", "Isko", pad_x=40.0, pad_y=30.0, colour="#ffffff", second="#404040", strength=1.0, size=50
    )
    film = step(film, choices={"gradient": "to the right", "grows": "left"})
    whole = frame(film, 50)
    left, top, right, _ = ink_box(whole, 30)
    row = whole[top + 4]
    across = np.arange(left + 2, right - 2)
    assert np.abs(row[across] - (255 - (255 - 64) * (across + 0.5 - left) / (right - left))).max() <= 3
    half = frame(edited(film, SetValue(clip="t", step="s", name="shown", value=0.5)), 50)
    open_to = np.nonzero(half[top + 4] > 30)[0][-1] + 1
    assert (
        open_to == pytest.approx((left + right) / 2, abs=2)
        and np.abs(half[top + 4, left + 2 : open_to - 2] - row[left + 2 : open_to - 2]).max() <= 1
    )


def test_an_emoji_is_its_own_picture_at_the_size_of_its_type_and_fades_with_it():
    def pixels(size, opacity=1.0):
        film = title("🐝", "placement", size=size)
        film = edited(film, SetValue(clip="t", step="s", name="opacity", value=opacity))
        return PAINTER.paint(plan(evaluate(film, 50), 1280, 720))[..., :3].astype(float)

    small, large = pixels(60), pixels(180)
    boxes = [ink_box(each.max(-1)) for each in (small, large)]
    assert (boxes[1][2] - boxes[1][0]) / (boxes[0][2] - boxes[0][0]) == pytest.approx(3, rel=0.06)
    # It has colours of its own whatever the type's colour is.
    assert len({tuple(colour) for colour in (large[large.max(-1) > 60] // 32).astype(int)}) > 8
    assert np.abs(pixels(180, 0.5) - large / 2).max() <= 2


def test_a_rule_is_as_wide_as_the_words_and_grows_from_its_side():
    film = title("Marrow Lane", "shape", "rule", size=60)
    plain = ink_box(frame(title("Marrow Lane", size=60), 50))
    seen = ink_box(frame(film, 50))
    assert seen[3] > plain[3] and (seen[0], seen[2]) == pytest.approx((plain[0], plain[2]), abs=2)
    rows = slice(plain[3] + 3, seen[3])
    widths = [np.count_nonzero(frame(film, at)[rows].max(0) > 60) for at in (2, 6, 12, 50)]
    assert widths == sorted(widths) and widths[0] < widths[-1]


def test_a_gradient_runs_from_its_first_to_its_second_colour():
    film = surfaced("gradient", "IIIIII", size=200, first="#ffffff", second="#404040", angle=90.0)
    pixels = frame(film, 50)
    box = stand(evaluate(film, 50).layers[0].content, 1280, 720).box
    column = int(ink_box(pixels)[0] + 6)
    rows = np.nonzero(pixels[:, column] > 20)[0][3:-3]
    expected = 255 + (64 - 255) * ((rows + 0.5 - box.y0) / (box.y1 - box.y0))
    assert np.abs(pixels[rows, column] - expected).max() <= 3


# ---- typefaces of one's own


def woff2_of(path, **changes):
    font = TTFont(path)
    for name, value in changes.items():
        setattr(font["OS/2"], name, value)
    font.flavor = "woff2"
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def test_a_font_of_ones_own_is_kept_and_set_in(tmp_path):
    source = tmp_path / "Mine.woff2"
    source.write_bytes(woff2_of(faces._SHIPPED / "courier-prime" / "400.ttf"))
    use_faces(tmp_path)
    family = import_face(source, "Mine.woff2", tmp_path)
    assert (
        family.id.startswith("own-")
        and "Courier Prime" in family.name
        and import_face(source, "again.woff2", tmp_path).id == family.id
    )
    ours, theirs = (lay_out("Found at dawn", Setting(each, 400)) for each in (family.id, "courier-prime"))
    assert ours.face_found and [glyph.x for glyph in ours.glyphs] == pytest.approx([glyph.x for glyph in theirs.glyphs])


@pytest.mark.parametrize(
    "data, why",
    [
        (b"", "no font file"),
        (b"\0\1\0\0" + b"\xff" * 400, "no whole font file"),
        (b"ttcf" + bytes(80), "collection"),
        (b"wOF2" + bytes(300), "no whole font file"),
        (b"%PDF-1.7", "no font file"),
    ],
)
def test_what_is_no_font_is_refused_in_a_sentence(tmp_path, data, why):
    (tmp_path / "x.ttf").write_bytes(data)
    with pytest.raises(FaceError, match=why):
        import_face(tmp_path / "x.ttf", "x.ttf", tmp_path)
    assert not (tmp_path / "faces").exists()


@pytest.mark.parametrize("rights, why", [(0x0002, "forbid"), (0x0200, "pictures")])
def test_embedding_bits_are_respected(rights, why):
    with pytest.raises(FaceError, match=why):
        read_face(woff2_of(faces._SHIPPED / "courier-prime" / "400.ttf", fsType=rights))


def test_every_step_is_nothing_at_its_neutral_values():
    """Each kind that is added at rest leaves a title as it is; the others are put at rest in all kinds' checks."""
    plain = frame(title("Neutral", size=90), 50)
    for kind in KINDS.values():
        numbers = [each for each in kind.parameters if each.sort == "number" and each.may_move]
        if any(each.default != each.neutral for each in numbers) or kind.kind in ("counter", "roll"):
            continue
        assert np.array_equal(frame(title("Neutral", kind.kind, size=90), 50), plain), kind.kind


def test_ink_is_filled_with_a_picture_that_covers_the_words():
    ramp = np.zeros((90, 160, 4), np.uint8)
    ramp[..., 0], ramp[..., 3] = np.linspace(0, 255, 160)[None, :], 255

    class One:
        def frame(self, media, index, width, exact):
            return ramp

    film = title("HHHH", "picture_fill", size=240)
    film = film.model_copy(
        update={
            "media": {
                "p": Media(id="p", name="P", kind="still", hash="0" * 64, path="p.png", width=160, height=90, frames=1)
            }
        }
    )
    ink = frame(title("HHHH", size=240), 50)
    assert np.array_equal(frame(film, 50), ink), "without a picture the ink is as it was"
    film = edited(film, GiveStep(clip="t", step="s", media="p"))
    painter = Painter(One())
    pixels = painter.paint(plan(evaluate(film, 50), 1280, 720)).astype(float)
    box = stand(evaluate(film, 50).layers[0].content, 1280, 720).box
    scale = max((box.x1 - box.x0) / 160, (box.y1 - box.y0) / 90)
    y = int((box.y0 + box.y1) / 2) + 20
    inside = [x for x in range(int(box.x0) + 8, int(box.x1) - 8) if ink[y - 1 : y + 2, x - 2 : x + 3].min() == 255]
    expected = [(x + 0.5 - (box.x0 + box.x1) / 2) / scale * 255 / 159 + 255 / 2 for x in inside]
    assert len(inside) > 40 and np.abs(pixels[y, inside, 0] - expected).max() < 4


SVG = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs><path d="M0 0h9v9z"/></defs>
<g transform="translate(10 5) scale(2)"><rect id="cell" x="0" y="0" width="20" height="10"/>
<circle cx="30" cy="5" r="5"/></g>
<path id="stroke" d="M0 80 L50 80 50 90z"/><text>no</text></svg>"""


def test_shapes_of_a_drawing_stand_beside_the_words():
    parts = read_svg(SVG)
    assert [part.name for part in parts] == ["cell", "circle 2", "stroke"]
    bounds = [outline_path(part.outline).computeTightBounds() for part in parts]
    assert [(b.left(), b.top(), b.right(), b.bottom()) for b in bounds] == [
        pytest.approx(each, abs=0.01) for each in ((10, 5, 50, 25), (60, 5, 80, 25), (0, 80, 50, 90))
    ]
    film = edited(
        title("Hive", "shape", size=60),
        GiveStep(clip="t", step="s", drawing=parts[0].outline),
        SetProperty(clip="t", step="s", name="height", property=Fixed(value=50)),
        SetProperty(clip="t", step="s", name="width", property=Fixed(value=400)),
        SetProperty(clip="t", step="s", name="colour", property=Fixed(value="#ffffff")),
    )
    plain, seen = ink_box(frame(title("Hive", size=60), 50)), ink_box(frame(film, 50), 127)
    # Twice as wide as high, as it was drawn, in the middle below the words.
    assert seen[3] - plain[3] > 50 and np.count_nonzero(frame(film, 50)[seen[3] - 5] > 127) == pytest.approx(100, abs=2)


GROWING = (
    "<!DOCTYPE svg [<!ENTITY a0 'aaaaaaaaaa'>"
    + "".join(f"<!ENTITY a{n} '{f'&a{n - 1};' * 10}'>" for n in range(1, 10))
    + "]><svg><text>&a9;</text></svg>"
)
"""Entities that grow to ten billion letters."""


@pytest.mark.parametrize(
    "text, why",
    [
        ("", "no whole SVG"),
        ("<html/>", "no SVG"),
        ("<svg xmlns='http://www.w3.org/2000/svg'><text>a</text></svg>", "no shapes"),
        ("<svg><path d='M0 0", "no whole SVG"),
        ("<!DOCTYPE svg [<!ENTITY a 'b'>]><svg>&a;</svg>", "no shapes"),
        (GROWING, "no whole SVG: limit on input amplification"),
    ],
)
def test_what_is_no_drawing_is_refused_in_a_sentence(text, why):
    with pytest.raises(SvgError, match=why):
        read_svg(text)


def test_a_drawing_of_groups_within_groups_is_refused_in_a_sentence():
    with pytest.raises(SvgError, match="groups within each other"):
        read_svg("<svg>" + "<g>" * 5000 + "<path d='M0 0L9 9L0 9Z'/>" + "</g>" * 5000 + "</svg>")


def font_with(units):
    font = TTFont(faces.shipped()["anton"].files[0])
    font["head"].unitsPerEm = units
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def test_fonts_made_to_do_harm_are_refused(tmp_path):
    from idle_comet.media.faces import read_face

    for units in (1, 15, 60_000):
        with pytest.raises(FaceError, match="units to the em"):
            read_face(font_with(units))
    # A packed font that says it unpacks to gigabytes is not unpacked to see.
    packed = b"wOF2" + bytes(12) + (3 << 30).to_bytes(4, "big") + bytes(2000)
    with pytest.raises(FaceError, match="too large"):
        read_face(packed)
    # One that lies about it meets the limits of the process that reads it.
    import brotli

    lies = io.BytesIO()
    font = TTFont(faces.shipped()["anton"].files[0])
    font.flavor = "woff2"
    font.save(lies)
    data = bytearray(lies.getvalue())
    bomb = brotli.compress(bytes(1 << 30), quality=1)
    data = data[:20] + len(bomb).to_bytes(4, "big") + data[24:48] + data[48:200] + bomb
    file = tmp_path / "lies.woff2"
    file.write_bytes(bytes(data))
    with pytest.raises(FaceError, match="was not added"):
        import_face(file, "lies.woff2", tmp_path)
