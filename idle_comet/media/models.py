"""Models, read from glTF 2.0 (`.glb`, and `.gltf` that holds all of it) and from OBJ files."""

from __future__ import annotations

import base64
import io
import json
import math
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image

from ..core.space import Mesh, smoothed
from ..core.space.model import Channel, Material, Node, Part, ReadModel, box_of
from .probe import MediaError
from .sniff import LARGEST_PICTURE, LARGEST_SIDE

GLTF, OBJ = (".glb", ".gltf"), (".obj",)
MODELS = (*GLTF, *OBJ)

MOST_TRIANGLES = 300_000
_LARGEST = 256 << 20
_MOST_NODES = 20_000
_SIDE = 2048
"""Px of a side of a model's picture; larger ones are made smaller."""

_KNOWN = {"KHR_materials_unlit", "KHR_materials_emissive_strength", "KHR_texture_transform", "KHR_materials_specular"}

_NUMBERS = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDE = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


class _Unusable(Exception):
    """Why a model can't be used, as the end of a sentence."""


def read_model(path: Path, name: str) -> ReadModel:
    """A model from its file. Raises MediaError with the reason."""
    if path.stat().st_size > _LARGEST:
        raise MediaError(f"“{name}” has {path.stat().st_size >> 20} MB; a model has at most {_LARGEST >> 20}.")
    try:
        made = _read_obj(path) if Path(name).suffix.lower() in OBJ else _Gltf(path).model()
        box = box_of(made)
        if not made.triangles:
            raise _Unusable("it holds no triangles")
        if not np.isfinite(box).all():
            raise _Unusable("some of its numbers are no numbers")
        if float((box[1] - box[0]).max()) <= 0 or float(np.abs(box).max()) > 1e12:
            raise _Unusable("it has no size that could be shown")
        return made
    except _Unusable as error:
        raise MediaError(f"“{name}” is no model that can be used: {error}. It was not added.") from error
    except Exception as error:
        # Whatever a stranger's file makes a reader stumble over: it is the file that is refused.
        raise MediaError(
            f"“{name}” is no model that can be read ({type(error).__name__}). It was not added."
        ) from error


def _checked(count: int) -> None:
    if count > MOST_TRIANGLES:
        raise _Unusable(f"it has {count:,} triangles, and {MOST_TRIANGLES:,} are the most".replace(",", " "))


class _Gltf:
    """One file while it is read. What it names is looked for within the file only."""

    def __init__(self, path: Path) -> None:
        # The reader takes a moment to load, which only who reads a model waits for.

        # The reader takes a moment to load, which only who reads a model waits for.
        import pygltflib

        data = path.read_bytes()
        if data[:4] == b"glTF":
            found = pygltflib.GLTF2.load_from_bytes(data)
        else:
            found = pygltflib.GLTF2.gltf_from_json(data.decode("utf-8"))
        if found is None:
            raise _Unusable("it is broken off")
        self.file = found
        self.notes: list[str] = []
        missing = set(found.extensionsRequired or ()) - _KNOWN
        if missing:
            raise _Unusable(f"it needs {', '.join(sorted(missing))}, which is not read")
        if len(found.nodes) > _MOST_NODES:
            raise _Unusable(f"it has more than {_MOST_NODES} nodes")
        self._buffers: dict[int, bytes] = {}

    def model(self) -> ReadModel:
        order, parents = self._tree()
        number = {node: place for place, node in enumerate(order)}
        nodes = tuple(self._node(node, number.get(parents.get(node, -1), -1)) for node in order)
        parts = [
            Part(mesh, number[node])
            for node in order
            if self.file.nodes[node].mesh is not None
            for mesh in self._meshes(self.file.nodes[node].mesh)
        ]
        _checked(sum(len(part.mesh.faces) for part in parts))
        if self.file.skins:
            self.notes.append("its skeleton is not played: what hangs on it is shown as it rests")
        pictures = self._pictures()
        materials = (*(self._material(each, len(pictures)) for each in self.file.materials), Material())
        animations = tuple(
            (each.name or f"animation {place}", run)
            for place, each in enumerate(self.file.animations, 1)
            if (run := self._run(each, number))
        )
        return ReadModel(tuple(parts), nodes, materials, pictures, animations, tuple(self.notes))

    def _tree(self) -> tuple[list[int], dict[int, int]]:
        """Nodes that are shown, parents first, and the parent of each. A node has one parent and is not its own."""
        count = len(self.file.nodes)
        scenes = self.file.scenes
        roots = scenes[self.file.scene or 0].nodes if scenes else None
        if roots is None:
            held = {child for node in self.file.nodes for child in node.children or ()}
            roots = [node for node in range(count) if node not in held]
        order: list[int] = []
        parents: dict[int, int] = {}
        seen: set[int] = set()
        waiting = list(roots)[::-1]
        while waiting:
            node = waiting.pop()
            if not 0 <= node < count:
                raise _Unusable("it names a node that is not there")
            if node in seen:
                raise _Unusable("a node of it stands within itself, or in two places")
            seen.add(node)
            order.append(node)
            for child in (self.file.nodes[node].children or ())[::-1]:
                parents[child] = node
                waiting.append(child)
        if not order:
            raise _Unusable("its nodes stand within each other")
        return order, parents

    def _node(self, node: int, parent: int) -> Node:
        found = self.file.nodes[node]
        if found.matrix is not None:
            # Column by column, as the format has it.
            return Node(parent, _numbers(found.matrix, 16).reshape(4, 4).T)
        return Node(
            parent,
            None,
            tuple(_numbers(found.translation or (0, 0, 0), 3)),
            tuple(_numbers(found.rotation or (0, 0, 0, 1), 4)),
            tuple(_numbers(found.scale or (1, 1, 1), 3)),
        )

    def _bytes(self, view: int) -> tuple[bytes, int]:
        found = self.file.bufferViews[view]
        if found.buffer not in self._buffers:
            buffer = self.file.buffers[found.buffer]
            if buffer.uri is None:
                data = self.file.binary_blob()
            elif buffer.uri.startswith("data:"):
                data = base64.b64decode(buffer.uri.partition(",")[2])
            else:
                raise _Unusable("its numbers lie in another file; save it as GLB, which holds all of it")
            self._buffers[found.buffer] = data or b""
        begin = found.byteOffset or 0
        part = self._buffers[found.buffer][begin : begin + found.byteLength]
        if begin < 0 or len(part) != found.byteLength:
            raise _Unusable("it is broken off")
        return part, found.byteStride or 0

    def _read(self, accessor: int) -> np.ndarray:
        """(count, n) float64 of an accessor, or int64 where it holds whole numbers that are no shares."""
        found = self.file.accessors[accessor]
        kind, wide = np.dtype(_NUMBERS[found.componentType]), _WIDE[found.type]
        if not 0 <= found.count <= 50_000_000:
            raise _Unusable("it counts more numbers than a model can have")
        if found.bufferView is None:
            values = np.zeros((found.count, wide), kind)
        else:
            values = self._strided(found.bufferView, found.byteOffset or 0, found.count, kind, wide)
        if found.sparse is not None:
            sparse = found.sparse
            places = self._strided(
                sparse.indices.bufferView,
                sparse.indices.byteOffset or 0,
                sparse.count,
                np.dtype(_NUMBERS[sparse.indices.componentType]),
                1,
            )
            values = values.copy()
            values[places[:, 0].astype(np.int64)] = self._strided(
                sparse.values.bufferView, sparse.values.byteOffset or 0, sparse.count, kind, wide
            )
        if found.normalized and kind.kind in "iu":
            return np.maximum(values.astype(np.float64) / np.iinfo(kind).max, -1.0)
        return values.astype(np.float64 if kind.kind == "f" else np.int64)

    def _strided(self, view: int, begin: int, count: int, kind: np.dtype, wide: int) -> np.ndarray:
        data, stride = self._bytes(view)
        own = kind.itemsize * wide
        stride = stride or own
        if count and begin + stride * (count - 1) + own > len(data):
            raise _Unusable("it is broken off")
        return (
            np.ndarray((count, wide), kind, data, begin, (stride, kind.itemsize))
            if count
            else np.zeros((0, wide), kind)
        )

    def _meshes(self, mesh: int) -> list[Mesh]:
        made = []
        for primitive in self.file.meshes[mesh].primitives:
            if primitive.mode not in (None, 4, 5, 6):
                self.notes.append("its points and lines are not shown")
                continue
            if primitive.attributes.POSITION is None:
                continue
            spots = self._read(primitive.attributes.POSITION)
            if primitive.indices is None:
                order = np.arange(len(spots))
            else:
                order = self._read(primitive.indices)[:, 0].astype(np.int64)
            faces = _faces(order, primitive.mode)
            _checked(len(faces))
            if len(faces) and (faces.min() < 0 or faces.max() >= len(spots)):
                raise _Unusable("it names a corner that is not there")
            if not np.isfinite(spots).all():
                raise _Unusable("some of its numbers are no numbers")
            material = primitive.material
            if material is None or not 0 <= material < len(self.file.materials):
                material = len(self.file.materials)
            surfaces = np.full(len(faces), material)
            attributes = primitive.attributes
            if attributes.NORMAL is not None and len(found := self._read(attributes.NORMAL)) == len(spots):
                normals = np.nan_to_num(found[faces])
            else:
                normals = smoothed(spots, faces, surfaces)
            places = np.zeros((len(faces), 3, 2))
            if attributes.TEXCOORD_0 is not None and len(found := self._read(attributes.TEXCOORD_0)) == len(spots):
                places = np.nan_to_num(found[faces][..., :2])
            made.append(Mesh(spots, faces, surfaces, normals, places))
        return made

    def _material(self, found: Any, pictures: int) -> Material:
        surface = found.pbrMetallicRoughness
        more = found.extensions or {}
        if surface is None:
            return Material(open=bool(found.doubleSided), unlit="KHR_materials_unlit" in more)
        colour = _numbers(surface.baseColorFactor or (1, 1, 1, 1), 4)
        shine = float((more.get("KHR_materials_emissive_strength") or {}).get("emissiveStrength", 1))

        def picture(info: Any) -> int:
            if info is None or info.index is None or not 0 <= info.index < len(self.file.textures):
                return -1
            source = self.file.textures[info.index].source
            return source if source is not None and 0 <= source < pictures and source in self._there else -1

        return Material(
            # The format's factors are light already.
            tuple(np.clip(colour[:3], 0, 1)),
            float(np.clip(1 if surface.metallicFactor is None else surface.metallicFactor, 0, 1)),
            float(np.clip(1 if surface.roughnessFactor is None else surface.roughnessFactor, 0, 1)),
            tuple(np.clip(_numbers(found.emissiveFactor or (0, 0, 0), 3) * np.clip(shine, 0, 1000), 0, 1000)),
            picture(surface.baseColorTexture),
            picture(surface.metallicRoughnessTexture),
            picture(found.emissiveTexture),
            bool(found.doubleSided),
            "KHR_materials_unlit" in more,
        )

    def _pictures(self) -> tuple[np.ndarray, ...]:
        made: list[np.ndarray] = []
        self._there: set[int] = set()
        for number, image in enumerate(self.file.images):
            data = None
            if image.bufferView is not None:
                data = self._bytes(image.bufferView)[0]
            elif image.uri is not None and image.uri.startswith("data:"):
                data = base64.b64decode(image.uri.partition(",")[2])
            picture = None if data is None else _picture(data)
            if picture is None:
                self.notes.append(f"its picture {number + 1} can’t be read; its surface is shown in one colour")
            else:
                self._there.add(number)
            made.append(np.full((1, 1, 4), 255, np.uint8) if picture is None else picture)
        return tuple(made)

    def _run(self, animation: Any, number: dict[int, int]) -> tuple[Channel, ...]:
        run = []
        for channel in animation.channels:
            node, path = channel.target.node, channel.target.path
            if node not in number or path not in ("translation", "rotation", "scale"):
                if path == "weights":
                    self.notes.append("its shapes that turn into others are shown as they rest")
                continue
            sampler = animation.samplers[channel.sampler]
            times, values = self._read(sampler.input)[:, 0], self._read(sampler.output)
            between = sampler.interpolation or "LINEAR"
            many = 3 if between == "CUBICSPLINE" else 1
            wide = 4 if path == "rotation" else 3
            if not len(times) or values.shape != (len(times) * many, wide):
                raise _Unusable("an animation of it has another number of values than of times")
            if not (np.isfinite(times).all() and np.isfinite(values).all()) or (np.diff(times) < 0).any():
                raise _Unusable("the times of an animation do not follow each other")
            run.append(Channel(number[node], path, times, values, between))
        return tuple(run)


def _numbers(values: Any, count: int) -> np.ndarray:
    found = np.array(values, np.float64)
    if found.shape != (count,) or not np.isfinite(found).all():
        raise _Unusable("some of its numbers are no numbers")
    return found


def _faces(order: np.ndarray, mode: int | None) -> np.ndarray:
    """(m, 3) corners of triangles, of a strip (5) and of a fan (6) too."""
    if mode in (None, 4):
        return order[: len(order) // 3 * 3].reshape(-1, 3)
    n = np.arange(max(0, len(order) - 2))
    if mode == 6:
        return np.stack([order[n + 1], order[n + 2], np.full(len(n), order[0])], 1) if len(n) else np.zeros((0, 3), int)
    odd = n % 2
    return np.stack([order[n], order[n + 1 + odd], order[n + 2 - odd]], 1)


def _picture(data: bytes) -> np.ndarray | None:
    """A PNG or JPEG as (h, w, 4) uint8, no larger than is of use; None where it can't be read."""
    try:
        # Its size is looked at before anything is unpacked.
        with Image.open(io.BytesIO(data)) as found:
            wide, high = found.size
            if (
                found.format not in ("PNG", "JPEG", "WEBP")
                or wide * high > LARGEST_PICTURE
                or max(wide, high) > LARGEST_SIDE
            ):
                return None
            pixels = np.asarray(found.convert("RGBA"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
    by = min(1.0, _SIDE / max(wide, high))
    size = (max(1, round(wide * by)), max(1, round(high * by)))
    return np.ascontiguousarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA) if by < 1 else pixels)


def _read_obj(path: Path) -> ReadModel:
    """An OBJ file: its surfaces' own file is not there, so that all of it is of one kind."""

    import trimesh

    text = path.read_text("utf-8", "replace")
    corners = sum(max(0, len(line.split()) - 3) for line in text.splitlines() if line.startswith("f "))
    _checked(corners)
    found = trimesh.load(io.StringIO(text), file_type="obj", process=False, skip_materials=True)
    meshes = list(found.geometry.values()) if isinstance(found, trimesh.Scene) else [found]
    parts = []
    for mesh in meshes:
        spots, faces = np.asarray(mesh.vertices, np.float64), np.asarray(mesh.faces, np.int64)
        if not np.isfinite(spots).all():
            raise _Unusable("some of its numbers are no numbers")
        surfaces = np.zeros(len(faces), int)
        # Corners that were taken apart for their places on a picture meet again where they lie alike.
        alike, again = np.unique(spots, axis=0, return_inverse=True)
        faces = again.reshape(-1)[faces]
        places = np.zeros((len(faces), 3, 2))
        parts.append(Part(Mesh(alike, faces, surfaces, smoothed(alike, faces, surfaces), places), 0))
    notes = (
        ("its surfaces lie in another file, which is not read; save it as GLB to keep them",)
        if "mtllib" in text
        else ()
    )
    return ReadModel(tuple(parts), (Node(-1),), (Material((0.55, 0.5, 0.42), 0.0, 0.5),), notes=notes)


def sniffed(path: Path, name: str) -> bool:
    """Whether a file is a model by its name and its first bytes. Raises MediaError for one that only says so."""
    suffix = Path(name).suffix.lower()
    if suffix not in MODELS:
        return False
    with path.open("rb") as file:
        head = file.read(512)
    binary = head[:4] == b"glTF"
    if suffix == ".glb" and not binary:
        raise MediaError(f"“{name}” is no GLB file, as its name says. It was not added.")
    if suffix != ".glb" and (binary or b"\0" in head):
        raise MediaError(f"“{name}” is not what its name says. It was not added.")
    if suffix == ".gltf":
        try:
            json.loads(path.read_text("utf-8"))
        except ValueError as error:
            raise MediaError(f"“{name}” is no glTF file that can be read. It was not added.") from error
    return True


def frames_of(model: ReadModel) -> int:
    """How many frames, 25 a second, its longest animation has; 1 for one that is still."""
    return max(1, min(10_000_000, math.ceil(model.seconds * 25)))


def proportions(model: ReadModel) -> tuple[int, int]:
    """How wide and how high a model is at rest, in thousandths of its longest side; 1 at least."""
    wide, high, deep = box_of(model)[1] - box_of(model)[0]
    longest = max(wide, high, deep)
    return max(1, round(1000 * wide / longest)), max(1, round(1000 * high / longest))
