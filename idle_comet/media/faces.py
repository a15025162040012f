"""The editor's own typefaces: checked, made plain, and kept in a folder each."""

from __future__ import annotations

import hashlib
import io
import json
import shutil
import struct
from pathlib import Path

from ..core.type import OWN, Family, family_of
from ..disk import put, sync
from .apart import Apart, Unreadable

LARGEST = 30 << 20
_LARGEST_UNPACKED = 4 * LARGEST
_MEMORY = 700 << 20
_SECONDS = 40
"""How long a font may take to be read: a hostile one must not hold anything up."""

_FORBIDS, _PICTURES_ONLY = 0x0002, 0x0200
"""Embedding bits of OS/2 fsType (OpenType): restricted licence; bitmaps only."""


class FaceError(ValueError):
    """A file that can't be used as a typeface; the message says why."""


def use_faces(media: Path) -> None:
    """Let this process find the editor's own typefaces, which stand beside the media."""
    OWN.folder = media / "faces"


def import_face(path: Path, name: str, media: Path) -> Family:
    """Check a font and keep it. The same font again is the typeface that is there. Raises FaceError."""
    if path.stat().st_size > LARGEST:
        raise FaceError(f"“{name}” is larger than {LARGEST >> 20} MB; it was not added.")
    data = path.read_bytes()
    id = f"own-{hashlib.sha256(data).hexdigest()[:12]}"
    known = family_of(id)
    if known:
        return known
    plain, told = _read_apart(data, name)
    folder = media / "faces" / id
    made = folder.with_name(f".{id}.part")
    shutil.rmtree(made, ignore_errors=True)
    made.mkdir(parents=True)
    (made / ("font.ttf" if told["variable"] else f"{told['weight']}.ttf")).write_bytes(plain)
    (made / "about.json").write_text(json.dumps({"name": told["name"], "file": name}))
    shutil.rmtree(folder, ignore_errors=True)
    put(made, folder)
    # The folder of all typefaces may be new.
    sync(media)
    family = family_of(id)
    assert family is not None
    return family


def _read_apart(data: bytes, name: str) -> tuple[bytes, dict]:
    """In a process of its own, which may want too much or hang without harm."""
    try:
        with Apart(_SECONDS, _MEMORY) as reader:
            return reader.do(read_face, data)
    except FaceError as error:
        why = str(error)
    except Unreadable as error:
        why = str(error)
    except Exception:  # whatever a broken font makes the reader stumble over
        why = "it is no whole font file"
    raise FaceError(f"“{name}” was not added: {why}. Nothing else was changed; TTF, OTF and WOFF2 files can be used.")


def _unpacked(data: bytes) -> int:
    """Bytes a packed font says it has when it is unpacked; its own length for one that is not packed."""
    if data[:4] in (b"wOF2", b"wOFF") and len(data) >= 20:
        return struct.unpack(">I", data[16:20])[0]
    return len(data)


def read_face(data: bytes) -> tuple[bytes, dict]:
    """The font as plain TrueType or OpenType, written anew, and its name, weight and whether it has axes. Raises
    FaceError."""
    from fontTools.pens.boundsPen import ControlBoundsPen
    from fontTools.ttLib import TTFont

    if data[:4] == b"ttcf":
        raise FaceError("it is a collection of fonts; send one of them")
    if data[:4] not in (b"\0\1\0\0", b"OTTO", b"true", b"wOF2", b"wOFF"):
        raise FaceError("it is no font file")
    if _unpacked(data) > _LARGEST_UNPACKED:
        raise FaceError("unpacked it is too large")
    font = TTFont(io.BytesIO(data), lazy=False)
    if "head" in font and not 16 <= font["head"].unitsPerEm <= 16384:
        raise FaceError(f"it counts {font['head'].unitsPerEm} units to the em; a font has 16 to 16,384")
    missing = [tag for tag in ("cmap", "head", "hhea", "hmtx", "maxp") if tag not in font]
    if missing or not font.getBestCmap():
        raise FaceError("it is no whole font file" if missing else "it has no characters")
    rights = font["OS/2"].fsType if "OS/2" in font else 0
    if rights & 0x000F == _FORBIDS:
        raise FaceError("its licence bits forbid embedding it")
    if rights & _PICTURES_ONLY:
        raise FaceError("its licence bits allow pictures of it only, not its outlines")
    glyphs = font.getGlyphSet()
    for glyph in list(font.getBestCmap().values())[:4000]:
        glyphs[glyph].draw(ControlBoundsPen(glyphs))
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    told = font["name"].getBestFamilyName() if "name" in font else None
    weight = min(1000, max(1, font["OS/2"].usWeightClass if "OS/2" in font else 400))
    style = font["name"].getBestSubFamilyName() if "name" in font else None
    name = " ".join(each for each in (told, style if style not in ("Regular", None) else None) if each)
    return out.getvalue(), {"name": (name or "Unnamed")[:100], "weight": weight, "variable": "fvar" in font}
