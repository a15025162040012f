"""Files of an upload, written where they will be used as they come in, never as a whole anywhere else."""

from __future__ import annotations

import asyncio
import shutil
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

from fastapi import HTTPException, Request
from python_multipart.exceptions import MultipartParseError
from python_multipart.multipart import MultipartParser, parse_options_header

from .problems import plainly

if TYPE_CHECKING:
    from python_multipart.multipart import MultipartCallbacks

LARGEST_FILE = 8 << 30
_LARGEST_REQUEST = 64 << 30
_KEEP_FREE = 256 << 20
"""Bytes of the disk an upload leaves alone, so that the database can still write."""


class _Part:
    """One file of the form while it comes in."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.headers: dict[bytes, bytes] = {}
        self.name: str | None = None
        self.size = 0
        self.problem: str | None = None
        self._file: BinaryIO | None = None

    def begin(self) -> None:
        _, options = parse_options_header(self.headers.get(b"content-disposition"))
        name = options.get(b"filename")
        if name is not None:
            # Marks that steer a terminal or end a text have no place in a name.
            said = "".join(each for each in name.decode("utf-8", "replace") if each.isprintable())
            self.name = Path(said.replace("\\", "/")).name or "file"
            self._file = self.path.open("wb")

    def write(self, data: bytes) -> None:
        self.size += len(data)
        if self._file is None:
            return
        if self.size > LARGEST_FILE:
            self._drop(f"“{self.name}” is larger than {LARGEST_FILE / (1 << 30):g} GB; it was not added.")
            return
        try:
            self._file.write(data)
        except OSError as error:
            self._drop(f"“{self.name}” could not be stored: {plainly(error)} It was not added.")

    def end(self) -> None:
        if self._file:
            self._file.close()
            self._file = None

    def _drop(self, problem: str) -> None:
        self.problem = problem
        self.end()
        self.path.unlink(missing_ok=True)


class _Form:
    """Collects the parts of one form as the parser finds them."""

    def __init__(self, folder: Path) -> None:
        self.folder, self.whole = folder, False
        self.parts: list[_Part] = []
        self._field, self._value = b"", b""

    def callbacks(self) -> MultipartCallbacks:
        return {
            "on_part_begin": self.part_begin,
            "on_header_field": self.header_field,
            "on_header_value": self.header_value,
            "on_header_end": self.header_end,
            "on_headers_finished": self.headers_finished,
            "on_part_data": self.part_data,
            "on_part_end": self.part_end,
            "on_end": self.end,
        }

    def part_begin(self) -> None:
        self.parts.append(_Part(self.folder / str(len(self.parts))))

    def header_field(self, data: bytes, start: int, end: int) -> None:
        self._field += data[start:end]

    def header_value(self, data: bytes, start: int, end: int) -> None:
        self._value += data[start:end]

    def header_end(self) -> None:
        self.parts[-1].headers[self._field.lower()] = self._value
        self._field, self._value = b"", b""

    def headers_finished(self) -> None:
        self.parts[-1].begin()

    def part_data(self, data: bytes, start: int, end: int) -> None:
        self.parts[-1].write(data[start:end])

    def part_end(self) -> None:
        self.parts[-1].end()

    def end(self) -> None:
        self.whole = True


def _megabytes(size: int) -> str:
    return f"{size / (1 << 20):.1f} MB" if size < 10 << 20 else f"{size >> 20} MB"


async def receive_files(request: Request, folder: Path) -> tuple[list[tuple[Path, str]], list[tuple[str, str]]]:
    """The files of a multipart form as (path in `folder`, name), and those not kept as (name, why).

    Raises HTTPException: 422 for what is not a whole form, 413 where the disk or the limit is too small.
    """
    kind, options = parse_options_header(request.headers.get("content-type"))
    if kind != b"multipart/form-data" or b"boundary" not in options:
        raise HTTPException(422, "Files are sent as a multipart form; this is none. Nothing was added.")
    expected = int(request.headers.get("content-length") or 0)
    free = shutil.disk_usage(folder).free - _KEEP_FREE
    if expected > min(free, _LARGEST_REQUEST):
        raise HTTPException(
            413,
            f"These files need {_megabytes(expected)}; there is room for {_megabytes(max(0, free))}, since "
            f"{_KEEP_FREE >> 20} MB are kept "
            "free for saving. Nothing was added; make room and send them again.",
        )
    form = _Form(folder)
    parser = MultipartParser(options[b"boundary"], form.callbacks())
    size = 0
    try:
        async for chunk in request.stream():
            size += len(chunk)
            if size > min(free, _LARGEST_REQUEST):
                raise HTTPException(413, "These files are larger than the room there is. Nothing was added.")
            await asyncio.to_thread(parser.write, chunk)
    except MultipartParseError:
        raise HTTPException(422, "The form can't be read. Nothing was added; send the files again.") from None
    finally:
        for part in form.parts:
            part.end()
    if not form.whole:
        raise HTTPException(422, "The form ended early. Nothing was added; send the files again.")
    files = [part for part in form.parts if part.name]
    if not files:
        raise HTTPException(422, "No file was sent; nothing was added.")
    return [(part.path, str(part.name)) for part in files if not part.problem], [
        (str(part.name), part.problem) for part in files if part.problem
    ]
