"""Captions by file and by ear, and how loud a film is, as the API has them."""

import httpx2 as httpx
import numpy as np
import pytest

from idle_comet.demo.voice import GERMAN, SENTENCES, spoken
from idle_comet.setup.transcriber import Transcriber
from tests.conftest import until

FILE = """1
00:00:01,040 --> 00:00:02,013
<b>Spät</b> im Jahr

2
00:00:02,013 --> 00:00:03,500
und kühl
""".replace("\n", "\r\n")


def sent(running, film, data, **query):
    return running.api("POST", f"/projects/{film.id}/captions", params=query, content=data,
                       headers={"Content-Type": "application/octet-stream"})  # fmt: skip


def test_a_file_goes_in_and_comes_out_as_it_was(running, made):
    answer = sent(running, made, FILE.encode(), name="late.srt", language="de")
    assert answer.status_code == 200 and answer.json()["count"] == 2 and answer.json()["notes"] == []
    assert running.api("GET", f"/projects/{made.id}/captions").json() == [{"language": "de", "count": 2}]
    assert made.get("/captions/de.srt").content == FILE.encode()
    assert b"00:00:02.013 --> 00:00:03.500" in made.get("/captions/de.vtt").content
    assert made.get("/captions/en.srt").status_code == 404
    texts = made.get("/texts").json()
    assert [each["text"] for each in texts if each["clip"] != "title"] == ["Spät im Jahr", "und kühl"]
    # One act, undone as one.
    state = made.state()
    running.api("POST", f"/projects/{made.id}/undo", json={"revision": state["revision"]})
    assert set(made.state()["project"]["clips"]) == {"title"}


def test_a_file_in_another_encoding_is_read_and_its_oddities_told(running, made):
    odd = "1\n00:00:05,000 --> 00:00:03,000\nZur Blüte\n".encode("cp1252")
    told = sent(running, made, odd, name="old.srt").json()
    assert len(told["notes"]) == 2 and "Western European" in told["notes"][0]
    wide = sent(running, made, FILE.encode("utf-16"), name="wide.srt").json()
    assert wide["count"] == 2 and wide["notes"] == []
    words = {clip["content"]["text"] for clip in made.state()["project"]["clips"].values()}
    assert {"Zur Blüte", "Spät im Jahr"} <= words


@pytest.mark.parametrize(
    "data, says",
    [
        (b"", "empty"),
        (b"no captions here", "no times"),
        (b"\x89PNG\r\n\x1a\n" + bytes(200), "no text"),
        (b"1\nnow --> later\n" + b"\0" * 30, "no text"),
    ],
)
def test_what_holds_no_captions_is_said_and_changes_nothing(running, made, data, says):
    before = made.state()
    answer = sent(running, made, data, name="odd.srt")
    assert answer.status_code == 422 and (says in answer.json()["detail"] or not data)
    assert made.state() == before


def with_voice(running, made):
    """The film with the demo's voice on its timeline from frame 30 on."""
    media = running.project()["project"]["media"]
    for edit in (
        {"kind": "add_media", "media": media["voice"]},
        {"kind": "add_media", "media": media["air"]},
        {"kind": "add_picture", "clip": "voice", "frame": 30, "media": "voice"},
    ):
        assert made.edit(**edit).status_code == 200


def written(running, film, clip, language="en"):
    job = film.post(f"/clips/{clip}/captions", {"language": language})
    over = until(lambda: (j := running.api("GET", f"/transcribing/{job['id']}").json())["state"] != "running" and j, 60)
    cues = [each for each in film.state()["project"]["clips"].values() if each["id"].startswith("c")]
    return over, sorted(cues, key=lambda each: each["head"])


@pytest.mark.parametrize("language, sentences", [("en", SENTENCES), ("de", GERMAN)])
def test_what_is_said_is_written_down_with_its_times(running, made, language, sentences):
    with_voice(running, made)
    # Cut at its head and moved, it is the same voice.
    assert made.edit(kind="trim_clip", clip="voice", head=130, length=500).status_code == 200
    assert made.edit(kind="move_clips", heads={"voice": 60}).status_code == 200
    over, cues = written(running, made, "voice", language)
    assert over["state"] == "done" and "words" in over["message"]
    said = " ".join(" ".join(cue["content"]["text"].split()) for cue in cues)
    assert said in " ".join(sentences) and len(said) > 200
    assert all(cue["rides"] == "voice" and cue["recipe"] == "plain-speech" for cue in cues)
    if language != "en":
        return
    known = [word for word in spoken().words if word.begin >= 4.0 and word.end <= 24.0]
    words = [
        (cue["head"] / 25 + word["begin"], word["text"]) for cue in cues for word in cue["content"]["caption"]["words"]
    ]
    assert [text for _, text in words] == [word.text for word in known]
    assert np.abs(np.array([at for at, _ in words]) - [word.begin - 4.0 + 60 / 25 for word in known]).max() < 0.02
    rows = [track for track in made.state()["project"]["tracks"] if track["captions"]]
    assert len(rows) == 1 and rows[0]["captions"]["language"] == "en"


def test_of_other_sounds_it_is_told_where_somebody_may_speak_and_what_can_not_be_heard(running, made):
    with_voice(running, made)
    assert made.edit(kind="set_speed", clip="voice", speed=1.3).status_code == 200
    over, cues = written(running, made, "voice")
    # At another speed it is sent as it was, and comes back in its own time.
    assert over["state"] == "done" and cues[-1]["head"] < 30 + 1416 / 1.25
    silent = running.api("POST", f"/projects/{made.id}/clips/title/captions", json={"language": "en"})
    assert silent.status_code == 422 and "no sound" in silent.json()["detail"]
    other = running.api("POST", f"/projects/{made.id}/clips/voice/captions", json={"language": "xx"})
    assert other.status_code == 503 and "refused" in other.json()["detail"]
    assert {each["code"] for each in running.api("GET", "/transcriber/languages").json()} == {"en", "de"}


def test_a_film_is_brought_to_a_loudness_and_its_meters_tell_it(running, made):
    assert running.api("POST", f"/projects/{made.id}/loudness", json={"target": -23}).status_code == 422
    with_voice(running, made)
    before = made.get("/loudness").json()
    assert before["integrated"] > -30 and len(before["course"]) > 40
    assert running.api("POST", f"/projects/{made.id}/loudness", json={"target": -14}).status_code == 200
    after = made.get("/loudness").json()
    assert after["integrated"] == pytest.approx(-14, abs=0.15) and after["true_peak"] <= -0.95
    levels = made.get("/levels", params={"first": 100, "frames": 50}).json()
    assert len(levels["momentary"]) == 50 and max(levels["peak"]) <= -0.9
    sound = made.get("/sound", params={"first": 100, "frames": 50}).content[44:]
    peak = np.abs(np.frombuffer(sound, "<i2")).max() / 32768
    assert 20 * np.log10(peak) == pytest.approx(max(levels["peak"]), abs=0.5)
    assert made.state()["history"]["undo"].startswith("sound of the film")


def test_a_bed_goes_down_under_a_voice_and_a_value_goes_with_it(running, made):
    with_voice(running, made)
    assert made.edit(kind="add_picture", clip="air", frame=0, media="air").status_code == 200
    answer = running.api("POST", f"/projects/{made.id}/clips/air/duck", json={"under": ["voice"], "by": 10})
    assert answer.status_code == 200
    gain = made.clip("air")["content"]["gain"]
    assert gain["state"] == "moving" and {round(key["value"]) for key in gain["keys"]} == {0, -10}
    begins = spoken().words[0].begin * 25 + 30
    # It is down when the first word begins, and was not a second before.
    down = min(key["at"] for key in gain["keys"] if round(key["value"]) == -10)
    assert begins - 6 <= down <= begins + 1
    step = next(each["id"] for each in made.clip("title")["steps"] if each["kind"] == "placement")
    level = {"step": step, "name": "scale", "sound": "voice", "low": 300, "high": 3000, "gain": 0.2, "offset": 1}
    assert running.api("POST", f"/projects/{made.id}/clips/title/level", json=level).status_code == 200
    motor = made.clip("title")["steps"][-1]["values"]["scale"]["motor"]
    assert motor["kind"] == "sound_level" and motor["clip"] == "voice"
    # In the middle of a word it is larger than before the first.
    silent, loud = (made.picture(at) for at in (30, round(begins) + 8))
    assert np.flatnonzero((loud > 128).any(0)).size > np.flatnonzero((silent > 128).any(0)).size + 10


def test_the_transcriber_starts_when_it_is_asked_for_and_again_when_it_ended(monkeypatch):
    monkeypatch.delenv("IDLE_COMET_TRANSCRIBER", raising=False)
    transcriber = Transcriber()
    try:
        assert transcriber._process is None
        for _ in range(2):
            where = transcriber.address()
            assert httpx.get(f"{where}/v1/languages").json() and transcriber.address() == where
            transcriber._process.kill()
            transcriber._process.wait(10)
    finally:
        if transcriber._process:
            transcriber._process.kill()
    monkeypatch.setenv("IDLE_COMET_TRANSCRIBER", "http://elsewhere:1/")
    assert Transcriber().address() == "http://elsewhere:1"
