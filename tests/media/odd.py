"""Footage and pictures as cameras, phones and old programs leave them, made by the test itself."""

import subprocess
from fractions import Fraction

import av
import numpy as np


def ffmpeg(*words):
    done = subprocess.run(["ffmpeg", "-v", "error", "-y", *map(str, words)], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr


def decoded(path, *filters, size=None):
    """Frames by the command-line decoder: (n, h, w, 3) uint8 RGB."""
    found = subprocess.run(
        [
            "ffprobe",
            "-v",
            "error",
            "-select_streams",
            "v",
            "-show_entries",
            "stream=width,height",
            "-of",
            "csv=p=0",
            str(path),
        ],
        capture_output=True,
        text=True,
    )
    width, height = size or map(int, found.stdout.strip().strip(",").split(",")[:2])
    chain = ",".join([*filters, "scale=flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp", "format=rgb24"])
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-vf", chain, "-fps_mode", "passthrough", "-f", "rawvideo", "-"],
        capture_output=True,
    )
    assert raw.returncode == 0, raw.stderr
    return np.frombuffer(raw.stdout, np.uint8).reshape(-1, height, width, 3)


def numbered_frames(count, width=64, height=48):
    """Frames whose grey is ten times their number."""
    return [np.full((height, width, 3), 10 * number, np.uint8) for number in range(count)]


def changing(path, times, frames, base=Fraction(1, 90_000)):
    """A film whose frames are shown at these times, s."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=30, options={"crf": "1", "preset": "ultrafast", "bf": "0"})
        stream.height, stream.width, stream.pix_fmt = *frames[0].shape[:2], "yuv420p"
        stream.codec_context.time_base = stream.time_base = base
        for at, picture in zip(times, frames):
            frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
            frame.pts, frame.time_base = round(at / base), base
            for packet in stream.encode(frame):
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    return path


COLOURS = np.array(
    [(191, 40, 40), (40, 150, 60), (60, 60, 200), (200, 190, 60), (40, 40, 40), (220, 220, 220)], np.uint8
)


def patches(width=192, height=96):
    """Six colours in a row, still."""
    picture = np.empty((height, width, 3), np.uint8)
    for number, colour in enumerate(COLOURS):
        picture[:, number * width // 6 : (number + 1) * width // 6] = colour
    return picture


def middles(picture):
    """The colour in the middle of each of the six."""
    height, width = picture.shape[:2]
    return np.array(
        [
            picture[
                height // 2 - 4 : height // 2 + 4, (2 * n + 1) * width // 12 - 3 : (2 * n + 1) * width // 12 + 3, :3
            ]
            .reshape(-1, 3)
            .mean(0)
            for n in range(6)
        ]
    )


def from_raw(path, picture, *options, count=4):
    """A film of one picture, by the command-line encoder."""
    height, width = picture.shape[:2]
    subprocess.run(
        [
            "ffmpeg",
            "-v",
            "error",
            "-y",
            "-f",
            "rawvideo",
            "-pix_fmt",
            "rgb24",
            "-s",
            f"{width}x{height}",
            "-r",
            "25",
            "-i",
            "-",
            *options,
            str(path),
        ],
        input=picture.tobytes() * count,
        check=True,
        capture_output=True,
    )
    return path
