"""Playback at 25 fps at 640×360 after a one-second start: frames later than their moment, through the painting
process."""

from __future__ import annotations

import time

from idle_comet.service.painting import FrameRequest, PainterProcess

from .common import close, demo, ms, p95


def run() -> bool:
    project, folder, _ = demo()
    painter = PainterProcess(folder)
    painter.paint("demo", 0, project, FrameRequest(0, 640, 360, False, 82))
    began, late, waits = time.perf_counter() + 1.0, 0, []
    ahead = 16
    for number in range(500):
        due = began + number / 25
        # Painted no further ahead than the Desk's buffer holds.
        pause = due - ahead / 25 - time.perf_counter()
        if pause > 0:
            time.sleep(pause)
        waits.append(painter.paint("demo", 0, project, FrameRequest(number, 640, 360, False, 82)).seconds)
        late += time.perf_counter() > due
    painter.stop()
    slow = sorted(((seconds, number) for number, seconds in enumerate(waits)), reverse=True)[:3]
    print("slowest: " + ", ".join(f"frame {number} {ms(seconds)}" for seconds, number in slow))
    print(
        f"500 frames, painting p95 {ms(p95(waits))}, {1 / (sum(waits) / len(waits)):.0f} frames a second if not "
        f"held back"
    )
    return close("play", [("frames late", late, 0)])
