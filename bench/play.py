"""Playback at 25 fps at 640×360 after a one-second start: frames later than their moment, through the painting
process."""

from __future__ import annotations

from .common import close, demo, ms, p95, played


def run() -> bool:
    project, folder, _ = demo()
    [(late, waits)] = played("demo", project, folder, range(500), (0,))
    slow = sorted(((seconds, number) for number, seconds in enumerate(waits)), reverse=True)[:3]
    print("slowest: " + ", ".join(f"frame {number} {ms(seconds)}" for seconds, number in slow))
    print(
        f"500 frames, painting p95 {ms(p95(waits))}, {1 / (sum(waits) / len(waits)):.0f} frames a second if not "
        f"held back"
    )
    return close("play", [("frames late", late, 0)])
