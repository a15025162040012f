"""Writing a GLB file: meshes, nodes that move, surfaces and their pictures (glTF 2.0)."""

from __future__ import annotations

import json
import struct
from pathlib import Path
from typing import Any

import cv2
import numpy as np

_FLOAT, _UINT = 5126, 5125


class Glb:
    """One file in the making. Everything is named by the number that the adding of it gives."""

    def __init__(self) -> None:
        self._blob = bytearray()
        self._told: dict[str, Any] = {
            "asset": {"version": "2.0"},
            "scene": 0,
            "scenes": [{"nodes": []}],
            **{
                name: []
                for name in (
                    "nodes", "meshes", "materials", "accessors", "bufferViews", "images", "textures", "animations"
                )
            },
        }  # fmt: skip

    def _view(self, data: bytes) -> int:
        self._blob += b"\0" * (-len(self._blob) % 4)
        self._told["bufferViews"].append({"buffer": 0, "byteOffset": len(self._blob), "byteLength": len(data)})
        self._blob += data
        return len(self._told["bufferViews"]) - 1

    def _accessor(self, values: np.ndarray, sort: str, kind: int = _FLOAT) -> int:
        data = values.astype("<f4" if kind == _FLOAT else "<u4")
        told = {"bufferView": self._view(data.tobytes()), "componentType": kind, "count": len(data), "type": sort}
        if sort in ("VEC3", "SCALAR") and kind == _FLOAT:
            flat = data.reshape(len(data), -1)
            told |= {"min": flat.min(0).tolist(), "max": flat.max(0).tolist()}
        self._told["accessors"].append(told)
        return len(self._told["accessors"]) - 1

    def picture(self, pixels: np.ndarray) -> int:
        """A texture of (h, w, 3) uint8 RGB."""
        done, data = cv2.imencode(".png", np.ascontiguousarray(pixels[..., ::-1]))
        assert done
        self._told["images"].append({"bufferView": self._view(data.tobytes()), "mimeType": "image/png"})
        self._told["textures"].append({"source": len(self._told["images"]) - 1})
        return len(self._told["textures"]) - 1

    def material(
        self, colour, metal=0.0, rough=0.6, own_light=(0, 0, 0), texture: int | None = None, open=False
    ) -> int:
        surface = {"baseColorFactor": [*colour, 1], "metallicFactor": metal, "roughnessFactor": rough}
        if texture is not None:
            surface["baseColorTexture"] = {"index": texture}
        told = {"pbrMetallicRoughness": surface, "emissiveFactor": [min(1, each) for each in own_light]}
        if open:
            told["doubleSided"] = True
        if max(own_light) > 1:
            strength = max(own_light)
            told["emissiveFactor"] = [each / strength for each in own_light]
            told["extensions"] = {"KHR_materials_emissive_strength": {"emissiveStrength": strength}}
            self._told["extensionsUsed"] = ["KHR_materials_emissive_strength"]
        self._told["materials"].append(told)
        return len(self._told["materials"]) - 1

    def mesh(self, spots, normals, places, faces, material: int) -> int:
        attributes = {
            "POSITION": self._accessor(spots, "VEC3"),
            "NORMAL": self._accessor(normals, "VEC3"),
            "TEXCOORD_0": self._accessor(places, "VEC2"),
        }
        indices = self._accessor(faces.reshape(-1), "SCALAR", _UINT)
        told = {"attributes": attributes, "indices": indices, "material": material}
        self._told["meshes"].append({"primitives": [told]})
        return len(self._told["meshes"]) - 1

    def node(self, name: str, mesh: int | None = None, within: int | None = None, **place) -> int:
        number = len(self._told["nodes"])
        self._told["nodes"].append({"name": name, **({} if mesh is None else {"mesh": mesh}), **place})
        if within is None:
            self._told["scenes"][0]["nodes"].append(number)
        else:
            self._told["nodes"][within].setdefault("children", []).append(number)
        return number

    def animation(self, name: str, channels: list[tuple[int, str, np.ndarray, np.ndarray]]) -> None:
        """Channels of (node, path, times, values)."""
        samplers, told = [], []
        for node, path, times, values in channels:
            wide = {3: "VEC3", 4: "VEC4"}[values.shape[1]]
            samplers.append({"input": self._accessor(times, "SCALAR"), "output": self._accessor(values, wide)})
            told.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})
        self._told["animations"].append({"name": name, "samplers": samplers, "channels": told})

    def write(self, path: Path) -> None:
        self._blob += b"\0" * (-len(self._blob) % 4)
        told = {name: each for name, each in self._told.items() if each != []}
        told["buffers"] = [{"byteLength": len(self._blob)}]
        words = json.dumps(told).encode()
        words += b" " * (-len(words) % 4)
        whole = 12 + 8 + len(words) + 8 + len(self._blob)
        path.write_bytes(
            struct.pack("<4sII", b"glTF", 2, whole)
            + struct.pack("<I4s", len(words), b"JSON")
            + words
            + struct.pack("<I4s", len(self._blob), b"BIN\0")
            + bytes(self._blob)
        )
