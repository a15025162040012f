"""Where the light stand-ins of shots are."""

from __future__ import annotations

from pathlib import Path

PROXY_WIDTH = 640


def proxy_path(shot: Path) -> Path:
    return shot.with_suffix(".proxy.mkv")
