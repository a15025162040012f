"""Sound in the Desk: placed, shaped, heard in time with the picture, and in the exported film."""

import io
import math
import re
import subprocess
import wave

import numpy as np
import pytest

from idle_comet.core.captions.reading import read_captions
from idle_comet.core.moment.hits import motion_hits
from idle_comet.core.project.model import Project
from idle_comet.core.sound import SOUND_RATE
from idle_comet.demo.voice import SENTENCES, spoken
from idle_comet.media.sounding import SoundFiles, read_sound
from tests.conftest import until

from .helpers import clips, go_to, pick, settled

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
    window.started.push([at, offset || 0, source.buffer.duration, source.playbackRate.value])
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
    gauge = desk.get_by_role("slider", name="Fade in", exact=True)
    gauge.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: sound(running)["content"]["fade_in"] >= 5)
    settled(desk)
    # While it plays, the picture is the one that is heard, within 40 ms and a screen's frame.
    desk.keyboard.press("Escape")
    go_to(desk, "60f")
    desk.locator("canvas[data-frame='60']").wait_for()
    # A frame the playhead is put on is heard for a moment.
    until(lambda: desk.evaluate("window.started.length") >= 1)
    desk.wait_for_timeout(200)
    desk.evaluate("window.started.length = 0")
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
    for (at, offset, lasts, _), (then, late, *_) in zip(begins, begins[1:]):
        assert then - late == pytest.approx(at - offset + lasts, abs=1e-3)
    # Twice as fast, and backwards, it is heard so.
    for keys, pace in (("ll", 2), ("j", 1)):
        desk.evaluate("window.started.length = 0")
        for key in keys:
            desk.keyboard.press(key)
        until(lambda: desk.evaluate("window.started.length") >= 1)
        assert desk.evaluate("window.started.at(-1)[3]") == pace
        desk.keyboard.press("k")
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
    peaks = running.api("GET", f"{FILM}/clips/hum/peaks?count=100").json()
    assert len(peaks["low"]) == len(peaks["high"]) == len(peaks["level"]) == 100 and set(peaks["level"]) == {1}
    assert running.edit({"kind": "set_fades", "clips": ["hum"], "fade_in": 20}).status_code == 200
    # A part of it, finer than peaks are kept, at the level it is heard.
    part = running.api("GET", f"{FILM}/clips/hum/peaks?first=9&last=11&count=200").json()
    assert part["level"][100] == pytest.approx(math.sin(math.pi / 4), abs=0.01) and max(part["high"]) > 0.02
    assert running.api("GET", f"{FILM}/clips/title/peaks").status_code == 404
    assert running.edit({"kind": "set_fades", "clips": ["hum"], "fade_in": 0}).status_code == 200
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


def test_a_whoosh_is_put_on_an_arrival(editor, desk, running):
    """With the title in hand: the tray, and where the sound belongs."""
    editor.click(desk.get_by_role("button", name="Sound", exact=True))
    editor.click(desk.locator("[data-sound=whoosh-soft] [data-test=on-arrival]"))
    placed = until(lambda: sound(running))
    assert editor.actions <= 3 and placed["rides"] == "title"
    state = Project.model_validate(running.project()["project"])
    at = state.clips["title"].head + motion_hits(state, state.clips["title"])["fastest"]
    heard = running.api("GET", f"{FILM}/sound?first=0&frames=120").content[44:]
    power = (np.frombuffer(heard, "<i2").reshape(-1, 2).astype(float) ** 2).sum(1)
    felt = np.convolve(power, np.hanning(1442)[1:-1], mode="same")
    assert felt.argmax() / 1920 == pytest.approx(at, abs=0.3)
    # Where it is drawn to a place by hand, and what comes up softly, by its grips.
    lane = desk.locator(f"[data-clip={placed['id']}]")
    lane.click(position={"x": 10, "y": 30})
    grip = desk.locator("[data-test=fade_in]")
    grip.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: sound(running)["content"]["fade_in"] == 10)


def test_a_voice_is_captioned_styled_and_saved(editor, desk, running, frame):
    """The spoken minute: in six actions from the sound in the film to captions that are coloured word by word."""
    assert running.edit({"kind": "add_picture", "clip": "say", "frame": 40, "media": "voice"}).status_code == 200
    editor.click(desk.locator("[data-clip=say]"), position={"x": 40, "y": 30})
    editor.click(desk.get_by_role("button", name="Text", exact=True))
    editor.click(desk.locator("[data-test=write-down]"))
    desk.locator("[data-test=written]").filter(has_text="words in").wait_for(timeout=60_000)
    pick(editor, desk.locator("[data-test=caption-style]"), "Honey Words")
    until(lambda: all(each["recipe"] == "honey-words" for each in captions(running)))
    with desk.expect_download() as download:
        editor.click(desk.locator("[data-test=save-srt]"))
    assert editor.actions <= 6
    read = read_captions(download.value.path().read_bytes())
    assert " ".join(" ".join(cue.text.split()) for cue in read.cues) == " ".join(SENTENCES)
    # As painted: while a word is said, it alone is honey-coloured, from left to right along a line.
    words = [word for word in spoken().words if word.sentence == 0]
    line = captions(running)[0]["content"]["text"].split("\n")[0].split()
    places = []
    for word in words[: len(line)]:
        at = math.ceil(40 + word.begin * 25 + 1e-6)
        picture = frame(at)[180:]
        honey = np.abs(picture - (0x40, 0xB4, 0xF0)).max(-1) < 16
        assert honey.sum() > 20
        places.append(np.flatnonzero(honey.any(0)).mean())
    assert places == sorted(places)


def captions(running):
    found = [each for each in clips(running).values() if each["content"].get("caption")]
    return sorted(found, key=lambda each: each["head"])


def test_a_film_is_brought_to_its_loudness(editor, desk, running, tmp_path):
    assert running.edit({"kind": "add_picture", "clip": "bed", "frame": 0, "media": "bed"}).status_code == 200
    editor.click(desk.get_by_role("button", name="Sound", exact=True))
    editor.click(desk.locator("[data-test=sound-loudness]"))
    editor.click(desk.locator("[data-test=bring-23]"))
    desk.locator("[data-test=integrated]").filter(has_text="-23.0").wait_for(timeout=30_000)
    assert editor.actions <= 3
    # The exported film is as loud as it says, by FFmpeg's own measure of what is in the file.
    order = {"quality": 40, "first": 0, "last": 499, "width": 64, "height": 36}
    job = running.api("POST", f"{FILM}/exports", json=order).json()["id"]
    until(lambda: running.api("GET", f"/exports/{job}").json()["state"] == "done", 120)
    film = tmp_path / "film.mp4"
    film.write_bytes(running.api("GET", f"/exports/{job}/film").content)
    measured = subprocess.run(
        ["ffmpeg", "-hide_banner", "-i", str(film), "-af", "ebur128=peak=true", "-f", "null", "-"],
        capture_output=True,
        text=True,
    ).stderr
    whole = measured.rsplit("Summary:", 1)[1]
    assert float(re.search(r"I:\s+(-?[\d.]+) LUFS", whole)[1]) == pytest.approx(-23, abs=0.6)
    assert float(re.search(r"Peak:\s+(-?[\d.]+) dBFS", whole)[1]) <= -0.5


def test_a_beat_is_tapped_while_the_film_plays(desk, as_it_was, running):
    assert running.edit({"kind": "add_picture", "clip": "bed", "frame": 0, "media": "bed"}).status_code == 200
    settled(desk)
    desk.keyboard.press("Escape")
    go_to(desk, "0f")
    settled(desk, 0)
    desk.keyboard.press("Space")
    until(lambda: desk.locator("canvas").get_attribute("data-frame") not in (None, "0"))
    # What is shown is noted in the page, in the very moment of the tap.
    desk.evaluate(
        """() => { window.tapped = []; addEventListener('keydown', ({ key }) => {
            if (key === ',') window.tapped.push(Number(document.querySelector('canvas').dataset.frame))
        }, true) }"""
    )
    for _ in range(4):
        desk.wait_for_timeout(400)
        desk.keyboard.press(",")
    desk.keyboard.press("Space")
    tapped = desk.evaluate("() => window.tapped")
    hits = until(lambda: clips(running)["bed"]["content"]["hits"])
    assert [round(hit["at"] * 25) for hit in hits] == pytest.approx(tapped, abs=2)


def test_captions_that_do_not_name_their_encoding_are_shown_before_they_are_added(desk, running, as_it_was, tmp_path):
    lines = ["Пчёлы вернулись поздно, и вереск ещё цвёл.", "Был ли рой? Их было два."]
    text = "".join(f"{n}\n00:00:0{n},000 --> 00:00:0{n},900\n{line}\n\n" for n, line in enumerate(lines, 1))
    (tmp_path / "late.srt").write_bytes(text.encode("koi8-r"))
    desk.get_by_role("button", name="Media", exact=True).click()
    picker = desk.locator("input[type=file]").first
    picker.set_input_files(tmp_path / "late.srt")
    shown = desk.locator("[data-test=caption-lines] li")
    shown.first.wait_for()
    assert shown.all_inner_texts() == lines
    # Another encoding is tried, and the right one chosen again.
    desk.get_by_role("dialog").locator(".v-select").click()
    desk.get_by_role("option", name="Cyrillic, Windows-1251").click()
    until(lambda: shown.all_inner_texts() != lines)
    assert not captions(running)
    desk.get_by_role("dialog").locator(".v-select").click()
    desk.get_by_role("option", name="Cyrillic, KOI8-R").click()
    until(lambda: shown.all_inner_texts() == lines)
    desk.locator("[data-test=add-captions]").click()
    until(lambda: [each["content"]["text"] for each in captions(running)] == lines)
