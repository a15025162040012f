"""Building the front end when its sources changed."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
from pathlib import Path

from .home import ROOT
from .packages import ensure
from .progress import part

WEB = ROOT / "web"
DIST = WEB / "dist"


class BuildFailed(RuntimeError):
    """The front end could not be built; the message ends with what the tool said."""


def _fingerprint(files: list[Path]) -> str:
    digest = hashlib.sha256()
    for file in sorted(files):
        digest.update(str(file.relative_to(WEB)).encode() + b"\0" + file.read_bytes())
    return digest.hexdigest()


def _sources() -> list[Path]:
    return [file for folder in ("src", "public") for file in (WEB / folder).rglob("*") if file.is_file()] + [
        file for file in WEB.glob("*") if file.is_file()
    ]


def _npm(*words: str) -> None:
    done = subprocess.run(
        ["npm", *words],
        cwd=WEB,
        capture_output=True,
        text=True,
        env={**os.environ, "CI": "true", "npm_config_fund": "false"},
    )
    if done.returncode:
        raise BuildFailed(f"npm {' '.join(words)} failed:\n{(done.stdout + done.stderr).strip()[-2000:]}")


def build_front_end() -> None:
    """Install packages and build, each only if what it depends on changed."""
    wanted = _fingerprint(_sources())
    stamp = DIST / ".stamp"
    if stamp.exists() and stamp.read_text() == wanted:
        return
    ensure("node", "npm")
    modules = WEB / "node_modules" / ".stamp"
    locked = _fingerprint([WEB / "package.json", WEB / "package-lock.json"])
    if not modules.exists() or modules.read_text() != locked:
        with part("Fetching front-end packages"):
            # No package may run scripts of its own at install.
            _npm("ci", "--no-audit", "--ignore-scripts")
        modules.write_text(locked)
    with part("Building the front end"):
        shutil.rmtree(DIST, ignore_errors=True)
        _npm("run", "build")
    for name in ("swagger-ui-bundle.js", "swagger-ui.css"):
        shutil.copy(WEB / "node_modules" / "swagger-ui-dist" / name, DIST / "assets" / name)
    stamp.write_text(wanted)
