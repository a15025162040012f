"""Which characters a file's bytes stand for: by its mark, as UTF-8, or as is likely."""

from __future__ import annotations

from typing import NamedTuple

import chardet

ENCODINGS = {
    "utf-8": "Unicode, UTF-8",
    "utf-16": "Unicode, UTF-16",
    "cp1252": "Western European, Windows-1252",
    "cp1250": "Central European, Windows-1250",
    "iso8859_2": "Central European, ISO 8859-2",
    "cp1257": "Baltic, Windows-1257",
    "cp1251": "Cyrillic, Windows-1251",
    "koi8_r": "Cyrillic, KOI8-R",
    "iso8859_5": "Cyrillic, ISO 8859-5",
    "cp1253": "Greek, Windows-1253",
    "cp1254": "Turkish, Windows-1254",
    "cp1255": "Hebrew, Windows-1255",
    "cp1256": "Arabic, Windows-1256",
    "cp1258": "Vietnamese, Windows-1258",
    "cp874": "Thai, Windows-874",
    "cp932": "Japanese, Shift JIS",
    "euc_jp": "Japanese, EUC-JP",
    "cp949": "Korean, Windows-949",
    "gb18030": "Chinese, GB 18030",
    "big5hkscs": "Chinese, Big5",
}
"""By the names Python knows them by, those an editor can choose."""

_MARKS = ((b"\xef\xbb\xbf", "utf-8"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))
_LOOKED_AT = 64 << 10
"""Bytes by which an encoding is told."""

_SAME = {
    "windows-1252": "cp1252", "iso-8859-1": "cp1252", "ascii": "cp1252", "windows-1250": "cp1250",
    "iso-8859-2": "iso8859_2", "windows-1257": "cp1257", "iso-8859-13": "cp1257", "windows-1251": "cp1251",
    "koi8-r": "koi8_r", "koi8-u": "koi8_r", "iso-8859-5": "iso8859_5", "windows-1253": "cp1253",
    "iso-8859-7": "cp1253", "windows-1254": "cp1254", "iso-8859-9": "cp1254", "windows-1255": "cp1255",
    "iso-8859-8": "cp1255", "windows-1256": "cp1256", "windows-1258": "cp1258", "tis-620": "cp874", "cp874": "cp874",
    "cp932": "cp932", "shift_jis": "cp932", "shift-jis": "cp932", "euc-jp": "euc_jp", "cp949": "cp949",
    "euc-kr": "cp949", "gb18030": "gb18030", "gb2312": "gb18030", "gbk": "gb18030", "big5": "big5hkscs",
    "big5-hkscs": "big5hkscs", "utf-16": "utf-16", "utf-16-le": "utf-16-le", "utf-16-be": "utf-16-be",
    "utf-16le": "utf-16-le", "utf-16be": "utf-16-be", "utf-8": "utf-8",
}  # fmt: skip


class Found(NamedTuple):
    """An encoding's name as Python knows it; `sure` where the bytes say it themselves."""

    name: str
    sure: bool

    @property
    def listed(self) -> str:
        """Its name among those that can be chosen."""
        return "utf-16" if self.name.startswith("utf-16") else self.name


def encoding_of(data: bytes) -> Found:
    """The encoding of a text's bytes."""
    for mark, name in _MARKS:
        if data.startswith(mark):
            return Found(name, True)
    if b"\0" not in data:
        try:
            data.decode("utf-8")
            return Found("utf-8", True)
        except UnicodeDecodeError:
            pass
    # What is ASCII in every encoding says nothing: of a long file the lines count that are not.
    lines = data.split(b"\n") if b"\0" not in data else [data]
    telling = b"\n".join(line for line in lines if not line.isascii()) or data
    told = chardet.detect(telling[:_LOOKED_AT] if len(data) > _LOOKED_AT else data)["encoding"]
    return Found(_SAME.get((told or "").lower(), "cp1252"), False)


def decoded(data: bytes, encoding: str) -> str:
    """Characters of bytes in an encoding, without a mark; what it has no character for is shown as one that is
    missing. Raises LookupError for an encoding nobody knows."""
    if encoding == "utf-16" and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        encoding = encoding_of(data).name if b"\0" in data else "utf-16-le"
        encoding = encoding if encoding.startswith("utf-16-") else "utf-16-le"
    return data.decode(encoding, errors="replace").removeprefix("\ufeff")
