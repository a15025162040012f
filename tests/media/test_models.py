"""Models from files: read as they are meant, where an independent reader has them, or refused with a reason."""

import json
import struct

import cv2
import numpy as np
import pytest
import trimesh

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddPicture, SetChoice, SetValue, StretchClips
from idle_comet.core.project.model import Project, Settings
from idle_comet.core.space.model import box_of, placed
from idle_comet.demo.glb import Glb
from idle_comet.demo.hive import ball, rounded_box, write_hive
from idle_comet.media.decode import ShotSources
from idle_comet.media.importing import import_file
from idle_comet.media.models import MOST_TRIANGLES, read_model
from idle_comet.media.probe import MediaError

from ..core.typed import edited


@pytest.fixture(scope="session")
def hive(tmp_path_factory):
    """The demo's hive: (media folder, media)."""
    folder = tmp_path_factory.mktemp("models")
    write_hive(folder / "given.glb")
    return folder, import_file(folder / "given.glb", "Hive.glb", folder)


def cube(colour=(0.8, 0.1, 0.1), **place):
    """A cube of a metre in one colour that is seen as it is."""
    out = Glb()
    material = out.material(colour, 0.0, 1.0)
    out._told["materials"][material]["extensions"] = {"KHR_materials_unlit": {}}
    out.node("cube", out.mesh(*rounded_box(1, 1, 1, 0.001, 2), material), **place)
    return out


def film_of(folder, media, **values):
    film = Project(settings=Settings(name="S", background="#000000"), media={media.id: media})
    film = edited(film, AddPicture(clip="m", frame=0, media=media.id))
    film = edited(film, *(SetValue(clip="m", step="content", name=name, value=value) for name, value in values.items()))
    return film, ShotSources(lambda _: folder / media.path)


def brought(out, folder, name="model.glb"):
    out.write(folder / "given")
    return import_file(folder / "given", name, folder)


def painted(film, sources, at=20, width=640, height=360, exact=True):
    return Painter(sources).paint(plan(evaluate(film, at), width, height, exact)).astype(float)


def test_the_demos_hive_is_where_another_reader_has_it(hive):
    folder, media = hive
    model = read_model(folder / media.path, "hive.glb")
    other = trimesh.load(str(folder / media.path), process=False)
    whole = other.to_geometry()
    assert media.kind == "model" and media.frames == 100 and model.triangles == len(whole.faces)
    assert np.abs(box_of(model) - other.bounds).max() < 1e-6
    # Every node stands where the other's graph has it.
    nodes = placed(model, -1)
    spots = np.concatenate([p.mesh.spots @ nodes[p.node][:3, :3].T + nodes[p.node][:3, 3] for p in model.parts])
    assert np.abs(np.sort(spots, 0) - np.sort(whole.vertices, 0)).max() < 1e-5


def test_a_cube_covers_what_its_corners_enclose(tmp_path):
    media = brought(cube(), tmp_path)
    film, sources = film_of(tmp_path, media, size=300, swing=30, tilt=20)
    seen = painted(film, sources, width=1280, height=720)
    corners = np.array([(x, y, z) for x in (-150, 150) for y in (-150, 150) for z in (-150, 150)], float)
    a, b = np.radians((30, 20))
    swing = np.array([[np.cos(a), 0, np.sin(a)], [0, 1, 0], [-np.sin(a), 0, np.cos(a)]])
    tilt = np.array([[1, 0, 0], [0, np.cos(b), -np.sin(b)], [0, np.sin(b), np.cos(b)]])
    world = corners @ (swing @ tilt).T
    away = 1280 * 35 / 36
    hull = cv2.convexHull((world[:, :2] * (away / (away + world[:, 2:])) + (640, 360)).astype(np.float32))
    assert (seen[..., 0] > 0).sum() == pytest.approx(cv2.contourArea(hull), rel=0.01)
    inside = seen[360, 640, :3]
    assert np.abs(inside - 255 * np.array([0.8, 0.1, 0.1]) ** (1 / 2.4)).max() < 1.5


def test_its_own_motion_lasts_as_long_as_its_clip(hive):
    """Stretched to twice its length, every frame of it is the frame of half the time."""
    folder, media = hive
    film, sources = film_of(folder, media)
    assert film.clips["m"].length == 100
    slow = edited(film, StretchClips(clips=("m",), by=2.0))
    # The roof lifts, and at the end all is as it was in the beginning.
    whole = [painted(film, sources, at, 320, 180) for at in (0, 33, 66, 99)]
    assert np.abs(whole[0] - whole[1]).mean() > 0.5 and np.abs(whole[0] - whole[3]).mean() < 0.1
    last = slow.clips["m"].length - 1
    for one, other in ((0, 0), (33, 33 / 99 * last), (99, last)):
        assert np.abs(painted(film, sources, one, 320, 180) - painted(slow, sources, other, 320, 180)).max() <= 2
    still = edited(film, SetChoice(clip="m", step="content", name="plays", value="stands still"))
    assert (painted(still, sources, 0, 320, 180) == painted(still, sources, 60, 320, 180)).all()


def test_what_shines_is_white_and_textures_lie_on_their_faces(tmp_path):
    out = Glb()
    picture = np.zeros((64, 64, 3), np.uint8)
    picture[:32], picture[32:] = (220, 30, 30), (30, 30, 220)
    texture = out.picture(picture)
    plain = out.material((1, 1, 1), 0.0, 1.0, texture=texture)
    lamp = out.material((0, 0, 0), 0.0, 1.0, (3, 3, 3))
    flat = np.array([(-1, -1, 0), (1, -1, 0), (1, 1, 0), (-1, 1, 0)], float)
    up = np.tile((0.0, 0, 1), (4, 1))
    places = np.array([(0, 1), (1, 1), (1, 0), (0, 0)], float)
    out.node("card", out.mesh(flat, up, places, np.array([(0, 1, 2), (0, 2, 3)]), plain))
    out.node("lamp", out.mesh(*ball(0.2), lamp), translation=[0, 0, 0.5])
    media = brought(out, tmp_path)
    film, sources = film_of(tmp_path, media, size=300, mirror=0)
    seen = painted(film, sources)[..., :3]
    assert (seen[180, 320] > 254).all()
    above, below = seen[180 - 50, 320 - 50], seen[180 + 50, 320 - 50]
    assert above[0] > 3 * above[2] and below[2] > 3 * below[0]
    # A light picture is coarser at its edges alone.
    assert np.abs(seen - painted(film, sources, exact=False)[..., :3]).mean() < 0.4


def test_an_obj_file_is_a_model_too(tmp_path):
    mesh = trimesh.creation.icosphere(subdivisions=2, radius=3.0)
    (tmp_path / "ball.obj").write_text("mtllib gone.mtl\n" + mesh.export(file_type="obj"))
    media = import_file(tmp_path / "ball.obj", "ball.obj", tmp_path)
    assert media.kind == "model" and (media.width, media.height) == (1000, 1000)
    assert "GLB" in media.notes[0]
    film, sources = film_of(tmp_path, media, size=200)
    seen = painted(film, sources, width=1280, height=720)[..., :3].max(-1) > 8
    away = 1280 * 35 / 36
    # What is seen of a ball is bounded by the rays that touch it.
    radius = 100 / np.sqrt(1 - (100 / away) ** 2)
    assert seen.sum() == pytest.approx(np.pi * radius**2, rel=0.02)


def glb(told, blob=b""):
    words = json.dumps(told).encode()
    words += b" " * (-len(words) % 4)
    blob += b"\0" * (-len(blob) % 4)
    body = struct.pack("<I4s", len(words), b"JSON") + words + struct.pack("<I4s", len(blob), b"BIN\0") + blob
    return struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body


def triangle(**more):
    """A file of one triangle, with something about it changed."""
    blob = np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0)], "<f4").tobytes()
    told = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"mesh": 0}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"}],
        "bufferViews": [{"buffer": 0, "byteOffset": 0, "byteLength": len(blob)}],
        "buffers": [{"byteLength": len(blob)}],
    }
    return {**told, **more}, blob


def huge(picture):
    """A PNG whose head says that it is huge."""
    data = bytearray(picture)
    data[16:24] = struct.pack(">II", 100_000, 100_000)
    return bytes(data)


PNG = cv2.imencode(".png", np.full((4, 4, 3), 200, np.uint8))[1].tobytes()


def with_picture(data):
    told, blob = triangle()
    told["bufferViews"].append({"buffer": 0, "byteOffset": len(blob), "byteLength": len(data)})
    told["buffers"] = [{"byteLength": len(blob) + len(data)}]
    told |= {
        "images": [{"bufferView": 1, "mimeType": "image/png"}],
        "textures": [{"source": 0}],
        "materials": [{"pbrMetallicRoughness": {"baseColorTexture": {"index": 0}}}],
    }
    told["meshes"][0]["primitives"][0]["material"] = 0
    return glb(told, blob + data)


WRONG = {
    "within itself": glb(*triangle(nodes=[{"mesh": 0, "children": [1]}, {"children": [0]}])),
    "each other": glb(*triangle(nodes=[{"mesh": 0, "children": [1]}, {"children": [0]}], scenes=[{}])),
    "not there": glb(*triangle(nodes=[{"mesh": 0, "children": [7]}])),
    "no numbers": glb(triangle()[0], np.array([(0, 0, 0), (np.nan, 0, 0), (0, 1, 0)], "<f4").tobytes()),
    "no size": glb(triangle()[0], np.full(9, 5, "<f4").tobytes()),
    "could be shown": glb(triangle()[0], np.full(9, 1e30, "<f4").tobytes()),
    "broken off": glb(*triangle(accessors=[{"bufferView": 0, "componentType": 5126, "count": 99, "type": "VEC3"}])),
    "no triangles": glb(*triangle(nodes=[{}])),
    "another file": glb(*triangle(buffers=[{"byteLength": 36, "uri": "elsewhere.bin"}])),
    "which is not read": glb(*triangle(extensionsRequired=["KHR_draco_mesh_compression"])),
    "it is broken off": b"glTF" + bytes(40),
    "that can be read": glb({"asset": {"version": "2.0"}, "nodes": 5}),
}


@pytest.mark.parametrize("why", WRONG)
def test_a_model_that_is_wrong_is_refused_with_the_reason(why, tmp_path):
    (tmp_path / "given").write_bytes(WRONG[why])
    with pytest.raises(MediaError) as refused:
        import_file(tmp_path / "given", "odd.glb", tmp_path)
    assert why in str(refused.value) and str(refused.value).endswith("It was not added.")
    assert not [each for each in tmp_path.iterdir() if each.name != "given"]


def test_too_many_triangles_are_counted_before_they_are_read(tmp_path):
    out = Glb()
    grid = np.arange(MOST_TRIANGLES * 3 + 3) % 3
    out.node("much", out.mesh(np.eye(3), np.eye(3), np.eye(3)[:, :2], grid.reshape(-1, 3), out.material((1, 1, 1))))
    with pytest.raises(MediaError, match="300 000 are the most"):
        brought(out, tmp_path)
    (tmp_path / "given").write_text("v 0 0 0\n" * 3 + "f 1 2 3\n" * (MOST_TRIANGLES + 1))
    with pytest.raises(MediaError, match="300 000 are the most"):
        import_file(tmp_path / "given", "much.obj", tmp_path)


@pytest.mark.parametrize("data", [huge(PNG), b"no picture at all", PNG[:30]], ids=["huge", "none", "broken off"])
def test_a_picture_that_can_not_be_used_leaves_the_model_in_its_colour(data, tmp_path):
    (tmp_path / "given").write_bytes(with_picture(data))
    media = import_file(tmp_path / "given", "odd.glb", tmp_path)
    assert "can’t be read" in media.notes[0]
    film, sources = film_of(tmp_path, media)
    assert painted(film, sources)[..., :3].max() > 100


def test_a_file_that_is_gone_is_painted_as_missing(hive):
    folder, media = hive
    film, _ = film_of(folder, media)
    painter = Painter(ShotSources(lambda _: folder / "gone.glb"))
    assert painter.paint(plan(evaluate(film, 20), 320, 180)).any() and painter.missing == {media.id}
