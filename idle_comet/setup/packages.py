"""Programs taken from Debian's packages. It needs nothing but Python: it runs before our own packages are there."""

from __future__ import annotations

import ctypes
import os
import shutil
import subprocess

NEEDS = {
    "mariadbd": "mariadb-server-core",
    "my_print_defaults": "mariadb-client-core",
    "node": "nodejs",
    "npm": "npm",
    "chromium": "chromium",
    "ffprobe": "ffmpeg",
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libespeak-ng.so.1": "libespeak-ng1",
    "/usr/share/fonts/opentype/noto/NotoSansCJK-Regular.ttc": "fonts-noto-cjk",
    "/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf": "fonts-noto-color-emoji",
}
"""Command, shared library or file → Debian package. The server's core package holds the server alone: the full one
would also set up and start a database of the system's own, which is not ours to touch."""

_SBIN = "/usr/sbin"


class PackagesMissing(RuntimeError):
    """Programs are missing and can't be installed here; the message names their packages."""


PAINTING = ("libEGL.so.1", "libGL.so.1", *(each for each in NEEDS if each.startswith("/")))
"""What the graphics library wants to find, though nothing here draws with it on a screen, and typefaces too big to
ship."""


SPEAKING = ("libespeak-ng.so.1",)
"""What the demo's voice speaks with."""

RUNNING = ("mariadbd", "my_print_defaults", "node", "npm", *PAINTING, *SPEAKING)
TESTING = (*RUNNING, "chromium", "ffprobe")
"""What all of `./comet start`, and of `./comet test`, looks for."""


def find(command: str) -> str | None:
    if command.startswith("/"):
        return command if os.path.isfile(command) else None
    if ".so." in command:
        try:
            ctypes.CDLL(command)
        except OSError:
            return None
        return command
    return shutil.which(command) or shutil.which(command, path=_SBIN)


def ensure(*commands: str) -> None:
    """Install what is missing, or say which packages to ask for."""
    missing = sorted({NEEDS[command] for command in commands if not find(command)})
    if not missing:
        return
    names = " ".join(missing)
    if os.geteuid() != 0 or not shutil.which("apt-get"):
        raise PackagesMissing(
            f"Idle Comet needs these Debian packages: {names}. Ask for them to be installed, then start again."
        )
    print(f"Installing from Debian's packages: {names}", flush=True)
    quiet = {"env": {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}, "stdout": subprocess.DEVNULL}
    subprocess.run(["apt-get", "update", "-qq"], check=False, **quiet)
    done = subprocess.run(["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing], **quiet)
    still = [NEEDS[command] for command in commands if not find(command)]
    if done.returncode or still:
        raise PackagesMissing(
            f"These Debian packages could not be installed: {names}. Install them by hand, then start again."
        )
