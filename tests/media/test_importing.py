"""Files taken in: what they are, what is kept of them, what is refused and why."""

import os
import shutil
from fractions import Fraction

import av
import cv2
import numpy as np
import pytest

from idle_comet.core.clock import Rate
from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddMedia, AddPicture, AddStep, AlignClips, ChangeFit, EditError, GiveStep, apply
from idle_comet.core.project.model import Project, Settings, Step, Track
from idle_comet.media.apart import Apart, Unreadable
from idle_comet.media.decode import ShotSources
from idle_comet.media.encode import FilmWriter
from idle_comet.media.importing import import_file, import_numbered, numbered
from idle_comet.media.package import missing_files
from idle_comet.media.probe import MediaError

BARS = [
    (191, 191, 191),
    (191, 191, 0),
    (0, 191, 191),
    (0, 191, 0),
    (191, 0, 191),
    (191, 0, 0),
    (0, 0, 191),
    (255, 255, 255),
]


def bars(width=640, height=360):
    picture = np.full((height, width, 4), 255, np.uint8)
    for number, colour in enumerate(BARS):
        picture[:, number * width // 8 : (number + 1) * width // 8, :3] = colour
    return picture


def film_of(media):
    project = Project(
        settings=Settings(name="f", width=media.width, height=media.height), tracks=(Track(id="shots", name="Shots"),)
    )
    project, _ = apply(project, AddMedia(media=media))
    project, _ = apply(project, AddPicture(clip="c", frame=0, media=media.id))
    return project


def sources_for(folder, *media):
    paths = {item.id: folder / item.path for item in media}
    return ShotSources(lambda id: paths[id])


def write_video(path, frames, codec, pix_fmt, rate=25, **options):
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=rate, options=options)
        stream.height, stream.width = frames[0].shape[:2]
        stream.pix_fmt = pix_fmt
        for number, picture in enumerate(frames):
            frame = av.VideoFrame.from_ndarray(picture, format="rgba")
            frame.pts, frame.time_base = number, Fraction(1, rate)
            for packet in stream.encode(frame):
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    return path


def test_colour_bars_survive_import_and_export(tmp_path):
    first = tmp_path / "bars.mp4"
    with FilmWriter(first, 640, 360, Fraction(25), crf=4) as film:
        for _ in range(5):
            film.write(bars())
    media = import_file(first, "bars.mp4", tmp_path)
    picture = Painter(sources_for(tmp_path, media)).paint(plan(evaluate(film_of(media), 2), 640, 360))
    second = tmp_path / "again.mp4"
    with FilmWriter(second, 640, 360, Fraction(25), crf=10) as film:
        for _ in range(5):
            film.write(picture)
    planes = []
    for path in (tmp_path / media.path, second):
        with av.open(str(path)) as container:
            frame = list(container.decode(video=0))[2]
            planes.append(
                [
                    np.frombuffer(p, np.uint8).reshape(-1, p.line_size)[:, : 640 // (2 if i else 1)].astype(int)
                    for i, p in enumerate(frame.planes)
                ]
            )
    for before, after, shrink in zip(*planes, (1, 2, 2)):
        inside = np.concatenate([np.arange((n * 80 + 12) // shrink, ((n + 1) * 80 - 12) // shrink) for n in range(8)])
        assert np.abs(before[20:-20, inside] - after[20:-20, inside]).max() <= 2


@pytest.mark.parametrize(
    "name, codec, pix_fmt, most",
    [
        ("a.mov", "qtrle", "argb", 1),
        ("a.mkv", "ffv1", "bgra", 1),
        ("a.mov", "png", "rgba", 1),
        ("a.mov", "prores_ks", "yuva444p10le", 6),
        ("a.webm", "libvpx-vp9", "yuva420p", 12),
    ],
)
def test_transparency_in_films_is_kept(tmp_path, name, codec, pix_fmt, most):
    picture = np.zeros((64, 96, 4), np.uint8)
    picture[...] = (200, 80, 40, 255)
    picture[:, 32:64, 3] = 128
    picture[:, 64:, 3] = 0
    media = import_file(write_video(tmp_path / name, [picture] * 3, codec, pix_fmt), name, tmp_path)
    assert media.alpha
    seen = sources_for(tmp_path, media).frame(media.id, 1, 96, True)
    assert np.abs(seen[20:40, 8:24].astype(int) - (200, 80, 40, 255)).max() <= most
    assert np.abs(seen[20:40, 40:56].astype(int) - (100, 40, 20, 128)).max() <= most
    assert seen[20:40, 76:90].max() <= most


def test_a_still_with_transparency_lies_over_what_is_below(tmp_path):
    picture = np.zeros((80, 80, 4), np.uint8)
    picture[20:60, 20:60] = (0, 0, 255, 128)  # straight BGRA: half red
    path = tmp_path / "sign.png"
    cv2.imwrite(str(path), picture)
    media = import_file(path, "sign.png", tmp_path)
    assert (media.kind, media.alpha) == ("still", True)
    assert media.ink == (20, 20, 60, 60), "where it stands, is aligned and uncovers is where it is seen"
    film = film_of(media).model_copy(
        update={"settings": Settings(name="f", width=160, height=120, background="#0000ff")}
    )
    film, _ = apply(film, ChangeFit(clip="c", fit="own"))
    seen = Painter(sources_for(tmp_path, media)).paint(plan(evaluate(film, 0), 160, 120))
    assert seen[60, 80].tolist() == pytest.approx([128, 0, 127, 255], abs=1)
    assert seen[5, 5].tolist() == [0, 0, 255, 255] and seen[25, 45].tolist() == [0, 0, 255, 255]
    film, _ = apply(film, AlignClips(clips=("c",), side="left", to="frame", frame=0))
    aligned = Painter(sources_for(tmp_path, media)).paint(plan(evaluate(film, 0), 160, 120))
    assert aligned[60, 0].tolist() == pytest.approx([128, 0, 127, 255], abs=1)


def test_pictures_that_count_up_become_one_shot(tmp_path):
    files = []
    for number in (9, 10, 11):
        path = tmp_path / f"run{number}"
        _, data = cv2.imencode(".png", np.full((40, 60, 4), (number * 20, 0, 0, 200), np.uint8))
        path.write_bytes(data.tobytes())
        files.append((path, f"bee_{number:04d}.png"))
    assert numbered([name for _, name in reversed(files)]) == "bee"
    media = import_numbered(files[::-1], Rate(num=25), tmp_path)
    assert (media.frames, media.alpha) == (3, True)
    sources = sources_for(tmp_path, media)
    for index, number in enumerate((9, 10, 11)):
        assert sources.frame(media.id, index, 60, True)[5, 5].tolist() == pytest.approx(
            [0, 0, number * 20 * 200 / 255, 200], abs=1
        )
    assert numbered(["a1.png", "a3.png"]) is None and numbered(["a1.png", "b2.png"]) is None


def test_footage_of_another_rate_shows_the_frame_of_its_moment(tmp_path):
    frames = [np.full((64, 64, 4), (10 * n, 10 * n, 10 * n, 255), np.uint8) for n in range(24)]
    media = import_file(write_video(tmp_path / "film.mkv", frames, "ffv1", "bgra", rate=24), "film.mkv", tmp_path)
    film = film_of(media)
    assert film.clips["c"].length == 25
    painter = Painter(sources_for(tmp_path, media))
    for frame in range(25):
        seen = painter.paint(plan(evaluate(film, frame), 64, 64))[30, 30, 0]
        assert seen == pytest.approx(10 * min(23, frame * 24 // 25), abs=1)


@pytest.fixture(scope="module")
def good_film(tmp_path_factory):
    path = tmp_path_factory.mktemp("good") / "good.mp4"
    with FilmWriter(path, 320, 180, Fraction(25), crf=20, keys_every=5) as film:
        for number in range(50):
            film.write(np.roll(bars(320, 180), number * 7, 1))
    return path


def png_header(width, height):
    return (
        b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR"
        + width.to_bytes(4, "big")
        + height.to_bytes(4, "big")
        + b"\x08\x06\x00\x00\x00"
        + bytes(40)
    )


@pytest.mark.parametrize(
    "name, make, says",
    [
        (
            "cut.mp4",
            lambda good: good.read_bytes()[: -good.stat().st_size // 3],
            "cut short|can't be read|can't be used",
        ),
        ("cut-early.mp4", lambda good: good.read_bytes()[:200], "can't be used"),
        ("picture.mp4", lambda good: png_header(10, 10), "is a PNG picture, not an MP4"),
        ("film.png", lambda good: good.read_bytes(), "is an MP4 or QuickTime film, not a PNG"),
        ("huge.png", lambda good: png_header(20_000, 20_000), "20000×20000"),
        ("broken.png", lambda good: png_header(50, 50), "can't be read as a picture"),
        ("notes.txt", lambda good: b"hello", "Idle Comet takes"),
        ("nothing.mp4", lambda good: b"", "is empty"),
        ("noise.mkv", lambda good: bytes(range(256)) * 20, "nor anything else"),
    ],
)
def test_what_is_not_what_it_claims_is_refused_with_the_reason(tmp_path, good_film, name, make, says):
    folder = tmp_path / "media"
    folder.mkdir()
    path = tmp_path / "upload"
    path.write_bytes(make(good_film))
    with pytest.raises(MediaError, match=says) as refused:
        import_file(path, name, folder)
    assert name in str(refused.value) and not list(folder.iterdir())


def test_the_same_file_is_kept_once(tmp_path, good_film):
    for number in range(2):
        shutil.copy(good_film, tmp_path / f"copy{number}")
        import_file(tmp_path / f"copy{number}", "good.mp4", tmp_path)
    assert len([file for file in tmp_path.glob("*.mp4")]) == 1


def test_frames_found_by_seeking_are_those_found_in_order(tmp_path, good_film):
    shutil.copy(good_film, tmp_path / "film")
    media = import_file(tmp_path / "film", "good.mp4", tmp_path)
    ordered = sources_for(tmp_path, media)
    whole = [ordered.frame(media.id, index, 320, True).copy() for index in range(50)]
    jumping = sources_for(tmp_path, media)
    for index in (49, 3, 30, 4, 5, 48, 0):
        assert np.array_equal(jumping.frame(media.id, index, 320, True), whole[index])
    light = jumping.frame(media.id, 30, 320, False)
    assert 10 * np.log10(255**2 / ((light.astype(float) - whole[30]) ** 2).mean()) > 28


def gone(path, *_):

    os._exit(3)


def greedy(*_):
    return len(bytearray(900 << 20))


def endless(*_):
    import time

    time.sleep(60)


@pytest.mark.parametrize(
    "work, says", [(gone, "no reader survives"), (greedy, "wants more than 300 MB"), (endless, "longer than 9 seconds")]
)
def test_a_file_that_its_reader_does_not_survive_harms_only_itself(tmp_path, work, says):
    with Apart(9.0, 300 << 20) as reader:
        with pytest.raises(Unreadable, match=says):
            reader.do(work, tmp_path)
        picture = tmp_path / "a.png"
        cv2.imwrite(str(picture), np.zeros((8, 8, 3), np.uint8))
        assert reader.do(import_file, picture, "a.png", tmp_path).width == 8


def test_what_a_picture_says_of_its_size_is_checked_before_it_is_unpacked(tmp_path):
    """A small file of 30,000 × 30,000 px."""
    import struct
    import zlib

    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    bomb = tmp_path / "bomb.png"
    bomb.write_bytes(
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", 16_000, 16_000, 1, 0, 0, 0, 0))
        + chunk(b"IDAT", zlib.compress(bytes(2001 * 16_000)))
        + chunk(b"IEND", b"")
    )
    with pytest.raises(MediaError, match="16000×16000"):
        import_file(bomb, "bomb.png", tmp_path)


def test_red_edges_stay_where_they_are_from_import_to_export(tmp_path):
    """The same film exported and imported three times over: chroma is sited one way in both."""
    picture = np.zeros((48, 96, 4), np.uint8)
    picture[..., 3] = 255
    picture[:, 41:, 0] = 220
    at = []
    for number in range(4):
        file = tmp_path / f"{number}.mp4"
        with FilmWriter(file, 96, 48, Fraction(25), crf=1) as film:
            for _ in range(3):
                film.write(picture)
        media = import_file(file, file.name, tmp_path)
        picture = sources_for(tmp_path, media).frame(media.id, 1, 10_000, True)
        redness = picture[24, :, 0].astype(float) - picture[24, :, 1]
        at.append(96 - redness[20:80].sum() / redness[70] - 16)
    assert np.abs(np.diff(at)).max() < 0.12 and abs(at[-1] - 41) < 0.3


def test_a_colour_table_is_taken_in_given_to_a_step_and_is_no_picture(tmp_path):
    swapped = tmp_path / "Warm Shop.cube"
    rows = [f"{b} {g} {r}" for b in (0, 1) for g in (0, 1) for r in (0, 1)]
    swapped.write_text("LUT_3D_SIZE 2\n" + "\n".join(rows))
    cv2.imwrite(str(tmp_path / "red.png"), np.full((90, 160, 3), (20, 40, 200), np.uint8))
    table = import_file(swapped, "Warm Shop.cube", tmp_path)
    still = import_file(tmp_path / "red.png", "red.png", tmp_path)
    assert (table.kind, table.width, table.path) == ("table", 2, f"{table.hash}.cube")
    assert (tmp_path / f"{table.hash}.thumb.jpg").exists()
    project, _ = apply(film_of(still), AddMedia(media=table))
    graded, _ = apply(project, AddStep(clip="c", at=0, step=Step(id="t", kind="colour_table")))
    graded, _ = apply(graded, GiveStep(clip="c", step="t", media=table.id))
    painter = Painter(sources_for(tmp_path, still, table))
    assert np.abs(painter.paint(plan(evaluate(graded, 5), 160, 90))[40, 80, :3].astype(int) - (20, 40, 200)).max() <= 1
    for edit, says in (
        (AddPicture(clip="d", frame=0, media=table.id), "is a LUT, no picture"),
        (GiveStep(clip="c", step="t", media=still.id), "takes a LUT"),
    ):
        with pytest.raises(EditError, match=says):
            apply(graded, edit)
    # A file that is gone leaves the picture as it is, and is told.
    (tmp_path / table.path).unlink()
    painter = Painter(sources_for(tmp_path, still, table))
    assert np.abs(painter.paint(plan(evaluate(graded, 5), 160, 90))[40, 80, :3].astype(int) - (200, 40, 20)).max() <= 1
    assert painter.missing == {table.id}
    bad = tmp_path / "bad.cube"
    bad.write_text("LUT_3D_SIZE 3\n0 0 nan")
    with pytest.raises(MediaError, match="no LUT that can be used: a table of size 3 has 27 entries"):
        import_file(bad, "bad.cube", tmp_path)


def test_a_file_that_a_power_cut_left_empty_is_said_and_mended_by_the_same_file(tmp_path, good_film):
    folder = tmp_path / "media"
    folder.mkdir()

    def added():
        given = tmp_path / "given.mp4"
        shutil.copy(good_film, given)
        return import_file(given, "given.mp4", folder)

    media = added()
    film = Project(settings=Settings(name="T"), media={media.id: media})
    assert missing_files(film, folder) == [] and media.size == good_film.stat().st_size
    for left in folder.iterdir():
        left.write_bytes(b"")
    (said,) = missing_files(film, folder)
    assert "damaged" in said and "Add the same file again" in said
    again = added()
    assert (again.path, again.hash) == (media.path, media.hash) and missing_files(film, folder) == []
    assert (folder / media.path).read_bytes() == good_film.read_bytes()
    assert all(each.stat().st_size for each in folder.iterdir())
