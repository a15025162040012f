"""Sound in the Desk: placed, shaped, heard in time with the picture, and in the exported film."""

import io
import math
import wave

import numpy as np
import pytest

from idle_comet.core.sound import SOUND_RATE
from idle_comet.media.sounding import SoundFiles, read_sound
from tests.conftest import until

from .helpers import clips, go_to, settled

FILM = "/projects/slow-harvest"

# Every start of a sound and its clock are kept, so that they can be asked for.
_WATCHED = """
window.started = []
const make = AudioContext.prototype.createBufferSource
AudioContext.prototype.createBufferSource = function () {
  window.heard = this
  const source = make.call(this)
  const start = source.start
  source.start = function (at, offset) {
    window.started.push([at, offset || 0, source.buffer.duration])
    start.call(this, at, offset)
  }
  return source
}
"""


@pytest.fixture
def page(chromium):
    page = chromium.new_page(viewport={"width": 1280, "height": 800})
    page.add_init_script(_WATCHED)
    yield page
    page.close()


def sound(running):
    return next((clip for clip in clips(running).values() if clip["content"]["kind"] == "sound"), None)


def test_a_sound_is_placed_shaped_heard_with_the_picture_and_exported(editor, desk, running, tmp_path):
    go_to(desk, "50f")
    editor.click(desk.get_by_role("button", name="Media", exact=True))
    editor.click(desk.locator("[data-media=bed] .act"))
    placed = until(lambda: sound(running))
    assert placed["head"] == 50 and placed["length"] == 1000
    desk.get_by_role("button", name="close").first.click()
    lane = desk.locator(f"[data-clip={placed['id']}]")
    lane.locator("[data-test=waveform] path").first.wait_for(state="attached")
    editor.click(lane, position={"x": 60, "y": 30})
    gauge = desk.get_by_role("slider", name="Comes up over", exact=True)
    gauge.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: sound(running)["content"]["fade_in"] >= 5)
    settled(desk)
    # While it plays, the picture is the one that is heard, within 40 ms and a screen's frame.
    desk.keyboard.press("Escape")
    go_to(desk, "60f")
    desk.locator("canvas[data-frame='60']").wait_for()
    desk.keyboard.press("Space")
    until(lambda: desk.evaluate("window.started.length") >= 2)
    apart = []
    for _ in range(12):
        desk.wait_for_timeout(90)
        shown, at = desk.evaluate(
            """() => {
              const { currentTime, outputLatency } = window.heard
              const since = currentTime - (outputLatency || 0) - window.started[0][0]
              return [Number(document.querySelector('canvas').dataset.frame), since * 25 + 60]
            }"""
        )
        apart.append(at - shown)
    desk.keyboard.press("Space")
    # A frame is shown from its own moment on, for a whole frame.
    assert np.median(apart) == pytest.approx(0.5, abs=1) and max(np.abs(apart)) < 2.5
    begins = desk.evaluate("window.started")
    # What follows begins where the one before it ends.
    for (at, offset, lasts), (then, late, _) in zip(begins, begins[1:]):
        assert then - late == pytest.approx(at - offset + lasts, abs=1e-3)
    # As exported: nothing before its head, then what the mix says.
    order = running.api(
        "POST", f"{FILM}/exports", json={"quality": 30, "first": 40, "last": 79, "width": 320, "height": 180}
    )
    job = order.json()["id"]
    done = until(lambda: (j := running.api("GET", f"/exports/{job}").json())["state"] in ("done", "failed") and j, 90)
    assert done["state"] == "done"
    film = tmp_path / "film.mp4"
    film.write_bytes(running.api("GET", f"/exports/{job}/film").content)
    assert read_sound(film).seconds == pytest.approx(40 / 25, abs=0.03)
    found = SoundFiles(lambda _: film).samples("film", 0, 40 * 1920)
    answer = running.api("GET", f"{FILM}/sound?first=40&frames=40")
    with wave.open(io.BytesIO(answer.content)) as told:
        assert (told.getframerate(), told.getnchannels(), told.getnframes()) == (SOUND_RATE, 2, 40 * 1920)
        mixed = np.frombuffer(told.readframes(40 * 1920), "<i2").reshape(-1, 2) / 32767
    assert np.abs(mixed[: 10 * 1920]).max() == 0 and np.abs(found[: 9 * 1920]).max() < 2e-3
    loud = slice(20 * 1920, 38 * 1920)
    alike = np.corrcoef(found[loud, 0], mixed[loud, 0])[0, 1]
    assert alike > 0.98


def test_waveforms_and_the_film_alone_are_told(running, as_it_was):
    placed = {"kind": "add_picture", "clip": "hum", "frame": 0, "media": "hum", "first": 0, "last": 24}
    assert running.edit(placed).status_code == 200
    peaks = running.api("GET", f"{FILM}/media/hum/peaks?begin=0&end=10&count=100").json()
    assert len(peaks["low"]) == len(peaks["high"]) == 100 and max(peaks["high"]) == pytest.approx(0.4, abs=0.01)
    assert running.api("GET", f"{FILM}/media/heath-evening/peaks?begin=0&end=1").status_code == 404
    whole = running.api("GET", f"{FILM}/film.wav")
    with wave.open(io.BytesIO(whole.content)) as told:
        assert told.getnframes() == running.project()["length"] * 1920
        first = np.frombuffer(told.readframes(1920 * 30), "<i2").reshape(-1, 2)
    assert np.abs(first[: 24 * 1920]).max() > 2000 and np.abs(first[26 * 1920 :]).max() == 0


def test_a_title_is_typed_by_the_hits_of_a_sound(editor, desk, running, frame):
    """Two strokes of the generator's typewriter and more: each letter from its hit's frame on."""
    heard = {"kind": "add_picture", "clip": "keys", "frame": 40, "media": "typewriter"}
    words = {"kind": "change_text", "clip": "title", "text": "HIVES"}
    for edit in (
        heard,
        words,
        *({"kind": "remove_step", "clip": "title", "step": id} for id in ("focus", "placement")),
    ):
        assert running.edit(edit).status_code == 200
    settled(desk)
    editor.click(desk.locator("[data-clip=title]"), position={"x": 60, "y": 20})
    editor.click(desk.locator("[data-test=add-step]"))
    editor.type("typing")
    editor.press("Enter")
    editor.click(desk.locator("[data-test=type-by-hits]"))
    step = until(
        lambda: next(
            (s for s in clips(running)["title"]["steps"] if len(s["values"].get("shown", {}).get("keys", ())) > 4), None
        )
    )
    assert editor.actions <= 5
    hits = clips(running)["keys"]["content"]["hits"]
    assert len(hits) == 9
    frames = [40 + math.floor(hit["at"] * 25 + 1e-6) for hit in hits[:5]]
    keys = [(key["at"] + 25, key["value"]) for key in step["values"]["shown"]["keys"]]
    assert [at for at, value in keys if value > 0] == frames
    # As painted: a letter comes in the frame of its hit, and none in the next.
    before, there, after = (frame(frames[2] + by) for by in (-1, 0, 1))
    came, went_on = (int((np.abs(one - other).max(-1) > 50).sum()) for one, other in ((there, before), (after, there)))
    assert came > 60 and went_on < came / 10
