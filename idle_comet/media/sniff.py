"""What a file is by its own first bytes, whatever its name says."""

from __future__ import annotations

from pathlib import Path

from .probe import MediaError

_STILLS = {"png": "a PNG picture", "jpeg": "a JPEG picture", "webp": "a WebP picture", "gif": "a GIF picture"}
_SOUNDS = {
    "wav": "a WAV sound",
    "flac": "a FLAC sound",
    "mp3": "an MP3 sound",
    "aac": "an AAC sound",
    "ogg": "an Ogg sound",
}
_VIDEOS = {"mp4": "an MP4 or QuickTime film", "mkv": "a Matroska or WebM film", "avi": "an AVI film"}
_ALL = _STILLS | _VIDEOS | _SOUNDS
_NAMED = {
    ".png": "png",
    ".jpg": "jpeg",
    ".jpeg": "jpeg",
    ".webp": "webp",
    ".gif": "gif",
    ".mp4": "mp4",
    ".m4v": "mp4",
    ".mov": "mp4",
    ".mkv": "mkv",
    ".webm": "mkv",
    ".avi": "avi",
    ".wav": "wav",
    ".flac": "flac",
    ".mp3": "mp3",
    ".aac": "aac",
    ".m4a": "mp4",
    ".ogg": "ogg",
    ".oga": "ogg",
    ".opus": "ogg",
}
TABLE = ".cube"
_MODELS = (".glb", ".gltf", ".obj")
LARGEST_SIDE = 16384
LARGEST_PICTURE = 120_000_000
"""Px of a picture; a photograph has 20 to 60 million."""


def _by_content(head: bytes) -> str | None:
    if head.startswith(b"\x89PNG\r\n\x1a\n"):
        return "png"
    if head.startswith(b"\xff\xd8\xff"):
        return "jpeg"
    if head[:6] in (b"GIF87a", b"GIF89a"):
        return "gif"
    if head[:4] == b"RIFF":
        return {b"WEBP": "webp", b"AVI ": "avi", b"WAVE": "wav"}.get(head[8:12])
    if head[4:8] in (b"ftyp", b"moov", b"mdat", b"wide", b"free"):
        return "mp4"
    if head.startswith(b"\x1a\x45\xdf\xa3"):
        return "mkv"
    if head.startswith((b"RF64", b"BW64")):
        return "wav"
    if head.startswith(b"fLaC"):
        return "flac"
    if head.startswith(b"OggS"):
        return "ogg"
    if head.startswith(b"ID3") or (head[0] == 0xFF and head[1] & 0xE6 in (0xE2, 0xE4, 0xE6)):
        return "mp3"
    if head[0] == 0xFF and head[1] & 0xF6 == 0xF0:
        return "aac"
    return None


def sniff(path: Path, name: str) -> str:
    """ "still", "video", "sound" or "table" (of colours, which is text); raises MediaError when the file is none of
    them, or not what its name says.

    A PNG's size is read here, before anything is decoded: a small file can hold a huge picture.
    """
    with path.open("rb") as file:
        head = file.read(64)
    if not head:
        raise MediaError(f"“{name}” is empty; nothing was added.")
    if Path(name).suffix.lower() == TABLE and b"\0" not in head:
        return "table"
    kind, claimed = _by_content(head), _NAMED.get(Path(name).suffix.lower())
    if claimed is None:
        raise MediaError(f"“{name}” can't be added: Idle Comet takes {', '.join(sorted([*_NAMED, TABLE, *_MODELS]))}.")
    if kind is None:
        raise MediaError(f"“{name}” is not {_ALL[claimed]}, as its name says, nor anything else that can be read.")
    if kind != claimed:
        raise MediaError(f"“{name}” is {_ALL[kind]}, not {_ALL[claimed]} as its name says. Rename it and add it again.")
    if kind == "png":
        check_size(name, int.from_bytes(head[16:20], "big"), int.from_bytes(head[20:24], "big"))
    if kind in _SOUNDS or Path(name).suffix.lower() == ".m4a":
        return "sound"
    return "still" if kind in _STILLS else "video"


def check_size(name: str, width: int, height: int) -> None:
    if not (0 < width <= LARGEST_SIDE and 0 < height <= LARGEST_SIDE and width * height <= LARGEST_PICTURE):
        raise MediaError(
            f"“{name}” is {width}×{height} px; pictures may have {LARGEST_PICTURE // 1_000_000} million px and "
            f"sides of {LARGEST_SIDE}."
        )
