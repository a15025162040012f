"""Footage as it comes: shown upright, in its right shape and colours, every moment its own frame; said what was
done."""

import shutil
import subprocess
from concurrent.futures import ThreadPoolExecutor
from fractions import Fraction

import av
import cv2
import numpy as np
import pytest
from PIL import Image, ImageCms

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.media.decode import ShotReader
from idle_comet.media.importing import import_file
from idle_comet.media.probe import MediaError
from idle_comet.media.proxy import proxy_path
from idle_comet.media.sounding import SoundFiles, read_sound, samples_path
from idle_comet.media.wide import HLG, PQ, rolled

from .odd import COLOURS, changing, decoded, ffmpeg, from_raw, middles, numbered_frames, patches
from .test_importing import film_of, sources_for


def taken(tmp_path, file, name=None):
    return import_file(file, name or file.name, tmp_path)


def shown(folder, media, index, exact=True):
    """As the painter gets it."""
    return sources_for(folder, media).frame(media.id, index, 640 if not exact else 10_000, exact)


@pytest.mark.parametrize("tag", ["smpte170m", "bt470bg", "bt709"])
def test_a_shot_says_its_own_matrix_and_is_read_by_it(tmp_path, tag):
    file = from_raw(
        tmp_path / "tagged.mp4",
        patches(),
        "-vf",
        f"scale=out_color_matrix={'bt709' if tag == 'bt709' else 'smpte170m'}:out_range=tv",
        "-c:v",
        "libx264",
        "-crf",
        "1",
        "-pix_fmt",
        "yuv420p",
        "-colorspace",
        tag,
        "-color_range",
        "tv",
    )
    media = taken(tmp_path, file)
    for exact in (True, False):
        picture = shown(tmp_path, media, 1, exact)
        assert np.abs(middles(picture) - COLOURS).max() <= (3 if exact else 6)


@pytest.mark.parametrize("turn", [90, 180, 270])
def test_a_phone_s_turned_shot_stands_upright(tmp_path, turn):
    lying = from_raw(tmp_path / "lying.mp4", patches(), "-c:v", "libx264", "-crf", "1", "-pix_fmt", "yuv420p")
    file = tmp_path / "turned.mp4"
    ffmpeg("-i", lying, "-c", "copy", "-metadata:s:v", f"rotate={turn}", file)
    media = taken(tmp_path, file)
    # The command-line decoder turns by itself.
    upright = decoded(tmp_path / media.path, size=(96, 192) if turn != 180 else (192, 96))
    assert (media.width, media.height) == (upright.shape[2], upright.shape[1]) and "upright" in media.notes[0]
    assert np.abs(shown(tmp_path, media, 1)[..., :3].astype(int) - upright[1]).mean() < 2
    proxy = ShotReader(proxy_path(tmp_path / media.path)).picture(1, exact=False)
    assert proxy.shape[0] * media.width == pytest.approx(proxy.shape[1] * media.height, rel=0.03)
    assert np.abs(cv2.resize(proxy, (media.width, media.height))[..., :3].astype(int) - upright[1]).mean() < 6


def test_pixels_that_are_not_square_are_shown_in_their_right_shape(tmp_path):
    circle = cv2.circle(np.zeros((120, 120, 3), np.uint8), (60, 60), 40, (255, 255, 255), -1)
    squeezed = cv2.resize(circle, (60, 120), interpolation=cv2.INTER_AREA)
    file = from_raw(
        tmp_path / "anamorphic.mp4",
        squeezed,
        "-c:v",
        "libx264",
        "-crf",
        "4",
        "-pix_fmt",
        "yuv420p",
        "-vf",
        "setsar=2/1",
    )
    media = taken(tmp_path, file)
    assert (media.width, media.height) == (120, 120) and "square" in media.notes[0]
    for exact in (True, False):
        frame = (
            Painter(sources_for(tmp_path, media)).paint(plan(evaluate(film_of(media), 1), 120, 120, exact))[..., 0]
            > 127
        )
        assert frame.any(0).sum() == pytest.approx(80, abs=3) and frame.any(1).sum() == pytest.approx(80, abs=3)


def test_a_shot_of_changing_rate_shows_the_frame_that_is_due(tmp_path):
    times = [0, 0.04, 0.08, 0.1, 0.15, 0.2, 0.28, 0.31, 0.45, 0.5, 0.52, 0.6, 0.71, 0.8]
    media = taken(tmp_path, changing(tmp_path / "phone.mp4", times, numbered_frames(len(times))))
    assert "changes" in media.notes[0]
    film, sources = film_of(media), sources_for(tmp_path, media)
    assert film.clips["c"].length == pytest.approx(0.86 * 25, abs=1.5)
    for frame in range(21):
        due = max(number for number, at in enumerate(times) if at <= frame / 25 + 1e-6)
        for exact in (True, False):
            seen = Painter(sources).paint(plan(evaluate(film, frame), 64, 48, exact))[24, 32, 0]
            assert int(seen) == pytest.approx(10 * due, abs=4), (frame, due)


def test_a_rate_with_a_fraction_no_one_meant_is_the_rate_that_was_meant(tmp_path):
    times = [number * 1001 / 30_000 + (number % 3) * 1e-5 for number in range(30)]
    media = taken(tmp_path, changing(tmp_path / "thirty.mp4", times, numbered_frames(24) + numbered_frames(6)))
    assert media.rate.fraction == Fraction(30_000, 1001) and media.frames == 30 and not media.notes


def test_pictures_that_are_never_shown_count_for_nothing(tmp_path):
    """VP8 with hidden pictures to predict from: every frame shown is the one that ffmpeg shows."""
    file = tmp_path / "hidden.webm"
    moving = (
        "-f",
        "lavfi",
        "-i",
        "testsrc2=s=160x120:r=25:d=6",
        "-c:v",
        "libvpx",
        "-b:v",
        "150k",
        "-auto-alt-ref",
        "1",
        "-lag-in-frames",
        "25",
        "-quality",
        "good",
        "-passlogfile",
        tmp_path / "pass",
    )
    ffmpeg(*moving, "-pass", "1", "-f", "null", "-")
    ffmpeg(*moving, "-pass", "2", file)
    with av.open(str(file)) as container:
        assert sum(1 for packet in container.demux(video=0) if packet.size) > 150, "the encoder hid none"
    media = taken(tmp_path, file)
    assert media.frames == 150 and media.rate.fraction == 25 and not media.notes
    wanted = decoded(tmp_path / media.path)
    for index in (0, 40, 75, 120, 149):
        seen = shown(tmp_path, media, index)[..., :3].astype(int)
        away = [np.abs(seen - each).mean() for each in wanted]
        assert int(np.argmin(away)) == index and away[index] < 5


def test_interlaced_footage_is_not_combed(tmp_path):
    """A white bar that moves 16 px a frame: woven, its edge is a comb; de-interlaced, every row agrees with the
    next."""
    file = tmp_path / "fields.mkv"
    pictures = np.zeros((28, 240, 320, 3), np.uint8)
    for number, picture in enumerate(pictures):
        picture[:, 20 + 8 * number : 80 + 8 * number] = 255
    done = subprocess.run(
        [
            "ffmpeg",
            "-v",
            "error",
            "-y",
            "-f",
            "rawvideo",
            "-pix_fmt",
            "rgb24",
            "-s",
            "320x240",
            "-r",
            "50",
            "-i",
            "-",
            "-vf",
            "interlace=lowpass=0,setfield=tff",
            "-flags",
            "+ildct+ilme",
            "-c:v",
            "mpeg2video",
            "-q:v",
            "2",
            "-top",
            "1",
            "-pix_fmt",
            "yuv420p",
            str(file),
        ],
        input=pictures.tobytes(),
        capture_output=True,
    )
    assert done.returncode == 0, done.stderr
    media = taken(tmp_path, file)
    assert any("de-interlaced" in note for note in media.notes)

    def combed(picture):
        luma = picture[..., 0].astype(float)
        return np.abs(luma[1:-1:2] - (luma[:-2:2] + luma[2::2]) / 2).mean()

    woven = decoded(tmp_path / media.path)
    sources = sources_for(tmp_path, media)
    seen = [sources.frame(media.id, index, 10_000, True) for index in range(3, 12)]
    assert combed(woven[6]) > 8 and max(combed(each) for each in seen) < 0.15 * combed(woven[6])
    # The same from anywhere: played through, or sought.
    assert (sources_for(tmp_path, media).frame(media.id, 9, 10_000, True) == seen[6]).all()


def light_by_the_book(signal, trc):
    """BT.2100 in its own words, one pixel at a time."""
    if trc == PQ:
        m1, m2, c1, c2, c3 = 0.1593017578125, 78.84375, 0.8359375, 18.8515625, 18.6875
        power = signal ** (1 / m2)
        return 10_000 * (max(power - c1, 0) / (c2 - c3 * power)) ** (1 / m1)
    return signal * signal / 3 if signal <= 0.5 else (np.exp((signal - 0.55991073) / 0.17883277) + 0.28466892) / 12


@pytest.mark.parametrize("trc, name", [(PQ, "smpte2084"), (HLG, "arib-std-b67"), (1, "bt2020-10")])
def test_wide_colour_is_mapped_by_the_stated_rule(tmp_path, trc, name):
    file = from_raw(
        tmp_path / "wide.mkv",
        patches(),
        "-vf",
        "scale=out_color_matrix=bt2020:out_range=tv",
        "-c:v",
        "ffv1",
        "-pix_fmt",
        "yuv444p10le",
        "-colorspace",
        "bt2020nc",
        "-color_primaries",
        "bt2020",
        "-color_trc",
        name,
        "-color_range",
        "tv",
    )
    media = taken(tmp_path, file)
    assert "mapped to Rec.709" in media.notes[0]
    wanted = []
    for colour in COLOURS / 255:
        if trc == 1:
            light = colour**2.4
        else:
            light = np.array([light_by_the_book(each, trc) for each in colour])
            if trc == HLG:
                light = light * 1000 * (0.2627 * light[0] + 0.6780 * light[1] + 0.0593 * light[2]) ** 0.2
            light = light / 203
        light = np.maximum(
            np.array([[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]]) @ light, 0
        )
        if trc != 1:
            light = light * rolled(light.max()) / max(light.max(), 1e-6)
        wanted.append(255 * np.minimum(light, 1) ** (1 / 2.4))
    assert np.abs(middles(shown(tmp_path, media, 0)) - wanted).max() <= 3


def test_light_is_rolled_off_smoothly():
    light = np.linspace(0, 1000 / 203, 5000)
    out = rolled(light)
    assert (np.diff(out) > 0).all() and out[-1] == pytest.approx(1) and (out[light <= 0.8] == light[light <= 0.8]).all()
    assert np.abs(np.diff(np.diff(out))).max() < 1e-4, "no corner in the shoulder"


def half_and_half(mode="RGB", size=(40, 20)):
    picture = Image.new("RGB", size, (200, 60, 40))
    picture.paste((30, 90, 220), (0, 0, size[0] // 2, size[1]))
    return picture.convert(mode)


@pytest.mark.parametrize("turn, upright", [(3, (180,)), (6, (270,)), (8, (90,)), (2, ("mirrored",)), (5, None)])
def test_a_photograph_stands_as_its_camera_was_held(tmp_path, turn, upright):
    exif = Image.Exif()
    exif[0x0112] = turn
    file = tmp_path / "photo.png"
    half_and_half().save(file, exif=exif)
    media = taken(tmp_path, file)
    picture = shown(tmp_path, media, 0)
    flat = np.asarray(half_and_half())
    # The eight ways of the EXIF standard, as it writes them: row 0 and column 0 of the file are these sides of the
    # picture.
    wanted = {
        2: flat[:, ::-1],
        3: flat[::-1, ::-1],
        5: flat.transpose(1, 0, 2),
        6: np.rot90(flat, -1),
        8: np.rot90(flat, 1),
    }[turn]
    assert (media.height, media.width) == wanted.shape[:2] and (picture[..., :3] == wanted).all()


def sixteen(path):
    grey = np.tile(np.linspace(0, 65535, 40).astype(np.uint16), (20, 1))
    cv2.imwrite(str(path), np.dstack([grey, grey, grey]))
    return np.rint(grey / 257.0)


def test_pictures_of_every_make_keep_their_colours(tmp_path):
    for name, save, tolerance in [
        ("palette.png", lambda file: half_and_half().quantize(8).save(file), 0),
        ("one.gif", lambda file: half_and_half().save(file), 0),
        ("lossless.webp", lambda file: half_and_half().save(file, lossless=True), 0),
        ("cmyk.jpg", lambda file: half_and_half("CMYK").save(file, quality=98, subsampling=0), 3),
        ("grey.png", lambda file: half_and_half("L").save(file), 0),
    ]:
        save(tmp_path / name)
        picture = shown(tmp_path, taken(tmp_path, tmp_path / name), 0)
        wanted = np.asarray(half_and_half("L" if name.startswith("grey") else "RGB").convert("RGB")).astype(int)
        assert np.abs(picture[:, [5, 15, 25, 35], :3].astype(int) - wanted[:, [5, 15, 25, 35]]).max() <= tolerance, name
    wanted = sixteen(tmp_path / "sixteen.png")
    assert np.abs(shown(tmp_path, taken(tmp_path, tmp_path / "sixteen.png"), 0)[..., 0] - wanted).max() <= 1
    cv2.imwrite(str(tmp_path / "grey16.png"), np.tile(np.linspace(0, 65535, 40).astype(np.uint16), (20, 1)))
    assert np.abs(shown(tmp_path, taken(tmp_path, tmp_path / "grey16.png"), 0)[..., 0] - wanted).max() <= 1


def test_a_picture_s_own_colour_profile_counts(tmp_path):
    """A picture in CIE Lab's own space, brought to sRGB by its profile; the wanted colours by the same profile's
    inverse."""
    lab = ImageCms.createProfile("LAB", 6500)
    to_lab = ImageCms.buildTransform(ImageCms.createProfile("sRGB"), lab, "RGB", "LAB")
    picture = ImageCms.applyTransform(half_and_half(), to_lab)
    file = tmp_path / "lab.tif"
    picture.save(file, icc_profile=ImageCms.ImageCmsProfile(lab).tobytes())
    from idle_comet.media.stills import read_still

    seen = read_still(file, "lab.tif")[0]
    assert np.abs(seen[:, [5, 35], :3].astype(int) - np.asarray(half_and_half())[:, [5, 35]]).max() <= 4


@pytest.mark.parametrize("suffix", [".gif", ".webp", ".png"])
def test_an_animated_picture_is_a_shot_with_its_own_times(tmp_path, suffix):
    colours = [(220, 30, 30), (30, 200, 40), (40, 60, 220), (230, 220, 40)]
    frames = [Image.new("RGBA", (32, 24), (*colour, 255)) for colour in colours]
    for each in frames:
        each.paste((0, 0, 0, 0), (0, 0, 8, 24))
    file = tmp_path / f"bee{suffix}"
    more = {"lossless": True} if suffix == ".webp" else {"disposal": 2} if suffix == ".gif" else {}
    frames[0].save(file, save_all=True, append_images=frames[1:], duration=[120, 40, 200, 80], loop=0, **more)
    if suffix == ".webp":
        # The writer here leaves out the flag for transparency, which is in the pictures all the same.
        data = bytearray(file.read_bytes())
        data[20] |= 0x10
        file.write_bytes(data)
    media = taken(tmp_path, file)
    assert media.kind == "video" and media.alpha and (media.width, media.height) == (32, 24)
    film, sources = film_of(media), sources_for(tmp_path, media)
    for frame in range(10):
        due = sum(frame / 25 + 1e-6 >= end for end in (0.12, 0.16, 0.36))
        painted = Painter(sources).paint(plan(evaluate(film, frame), 32, 24))
        assert np.abs(painted[12, 20, :3].astype(int) - colours[due]).max() <= 6, (frame, due)
        assert painted[12, 3, :3].max() == 0


@pytest.mark.parametrize("size", [(1, 40), (3, 3), (8200, 16)])
def test_a_film_of_an_odd_size_is_taken_or_refused_in_words_and_leaves_nothing_behind(tmp_path, size):
    file = from_raw(tmp_path / "odd.mkv", np.zeros((size[1], size[0], 3), np.uint8), "-c:v", "ffv1", "-pix_fmt", "bgr0")
    folder = tmp_path / "media"
    folder.mkdir()
    try:
        media = import_file(file, "odd.mkv", folder)
        assert shown(folder, media, 1).shape[:2] == size[::-1]
    except MediaError as error:
        assert str(error).endswith("added.") and not list(folder.iterdir())


def test_the_same_new_film_sent_twelve_times_at_once_is_kept_once(tmp_path):
    first = from_raw(tmp_path / "same.mp4", patches(), "-c:v", "libx264", "-pix_fmt", "yuv420p", count=30)
    folder = tmp_path / "media"
    folder.mkdir()
    copies = [tmp_path / f"{number}.mp4" for number in range(12)]
    for copy in copies:
        copy.write_bytes(first.read_bytes())
    with ThreadPoolExecutor(12) as pool:
        found = list(pool.map(lambda copy: import_file(copy, "same.mp4", folder), copies))
    assert len({each.path for each in found}) == 1 and len(list(folder.iterdir())) == 3


def test_a_long_name_is_shortened(tmp_path):
    half_and_half().save(tmp_path / "a.png")
    assert len(taken(tmp_path, tmp_path / "a.png", "ä" * 240 + ".png").name) <= 120


def flash_and_click(path, *words):
    """Four seconds whose grey is 20 + 2·n; a click begins with frame 30."""
    picture = "color=black:s=64x48:r=25:d=4,geq=lum=20+2*N:cb=128:cr=128"
    click = "aevalsrc='0.5*between(t,1.2,1.24)':s=48000:d=4"
    inputs = ("-f", "lavfi", "-i", picture, "-f", "lavfi", "-i", click)
    ffmpeg(*inputs, "-g", 25, "-bf", 2, "-pix_fmt", "yuv420p", *words, path)
    return path


def click_of(folder, media):
    heard = SoundFiles(lambda _: folder / media.path).samples("m", 0, 4 * 48_000)
    return (np.abs(heard[:, 0]) > 0.2).argmax() / 48_000


def test_a_film_cut_without_encoding_shows_what_its_edit_list_says(tmp_path):
    """As FFmpeg shows it; picture and sound stay together."""
    folder = tmp_path / "media"
    folder.mkdir()
    whole = flash_and_click(tmp_path / "whole.mp4", "-c:v", "libx264", "-c:a", "aac", "-b:a", "192k")
    ffmpeg("-ss", 0.76, "-i", whole, "-c", "copy", tmp_path / "cut.mp4")
    expected = decoded(tmp_path / "cut.mp4")
    media = import_file(tmp_path / "cut.mp4", "cut.mp4", folder)
    assert (media.frames, media.rate.fraction) == (len(expected), 25) == (81, 25)
    for path in (folder / media.path, proxy_path(folder / media.path)):
        reader = ShotReader(path)
        for number in (0, 1, 11, 40, 80):
            shown = reader.picture(number, exact=True)[..., 0].mean()
            assert shown == pytest.approx(expected[number, ..., 0].mean(), abs=2)
        reader.close()
    assert click_of(folder, media) == pytest.approx((30 - 19) / 25, abs=0.001)
    assert media.sound.seconds == pytest.approx(81 / 25, abs=0.03)


@pytest.mark.parametrize("name, codec", [("a.webm", "libvpx"), ("a.mkv", "libx264"), ("a.mp4", "libx264")])
def test_what_a_sound_s_coder_leads_in_with_moves_nothing(tmp_path, name, codec):
    folder = tmp_path / "media"
    folder.mkdir()
    flash_and_click(tmp_path / name, "-c:v", codec, "-c:a", "libopus")
    media = import_file(tmp_path / name, name, folder)
    assert media.frames == 100 and click_of(folder, media) == pytest.approx(1.2, abs=0.001)


def test_a_hole_in_a_sound_s_times_is_silence(tmp_path):
    """A second of tone, half a second of nothing, a second of tone."""
    folder = tmp_path / "media"
    folder.mkdir()
    tone = (0.5 * np.sin(np.arange(44_100) / 9)).astype("<f4")
    with av.open(str(tmp_path / "hole.mka"), "w", format="matroska") as out:
        stream = out.add_stream("pcm_s16le", rate=44_100, layout="mono")
        for begin in (0, 66_150):
            for at in range(0, 44_100, 4410):
                part = (tone[at : at + 4410] * 32767).astype("<i2").reshape(1, -1)
                frame = av.AudioFrame.from_ndarray(part, format="s16", layout="mono")
                frame.sample_rate, frame.pts, frame.time_base = 44_100, begin + at, Fraction(1, 44_100)
                for packet in stream.encode(frame):
                    out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    shutil.copy(tmp_path / "hole.mka", folder / "hole.mka")
    found = read_sound(folder / "hole.mka")
    assert found.seconds == pytest.approx(2.5, abs=0.01)
    heard = np.fromfile(samples_path(folder / "hole.mka"), "<f4").reshape(-1, 2)[:, 0]
    loud = {at: np.abs(heard[int(at * 48_000) :][:960]).max() > 0.2 for at in (0.5, 0.97, 1.02, 1.47, 1.52, 2.4)}
    assert [at for at in loud if not loud[at]] == [1.02, 1.47]
