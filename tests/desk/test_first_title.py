"""What an editor does first: change the words, their arrival and softness, play, export, come back."""

import base64
import re
from fractions import Fraction

import cv2
import numpy as np
import pytest

from idle_comet.media.encode import FilmWriter
from tests.conftest import Running, lend_demo, until

from .helpers import clip, go_to, psnr, settled, settled_pixels


def test_words_typed_into_the_picture_are_painted_and_survive_a_reload_and_a_restart(desk, running, exported):
    before = settled_pixels(desk)
    box = desk.locator("canvas").bounding_box()
    desk.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    desk.locator("[data-test=type-here]").wait_for(state="attached")
    desk.keyboard.type("BEES AT DUSK")
    until(lambda: clip(running)["content"]["text"] == "BEES AT DUSK")
    desk.keyboard.press("Escape")
    changed = settled_pixels(desk)
    rows = slice(int(changed.shape[0] * 0.44), int(changed.shape[0] * 0.56))
    assert np.abs(changed[rows] - before[rows]).max() > 100
    frame = int(desk.locator("canvas").get_attribute("data-frame"))
    assert psnr(changed, exported(frame, changed)) >= 35
    desk.reload()
    assert psnr(settled_pixels(desk, frame), changed) > 45
    running.stop()
    running.start()
    desk.reload()
    assert psnr(settled_pixels(desk, frame), changed) > 45
    # Typing was one gesture: one undo brings the old words back.
    desk.get_by_role("button", name="Undo “words”").click()
    until(lambda: clip(running)["content"]["text"] == "THE SLOW HARVEST")
    assert psnr(settled_pixels(desk, frame), before) > 45


def test_the_text_tray_changes_words_and_never_covers_the_preview(desk, running):
    desk.get_by_role("button", name="Text", exact=True).click()
    canvas, tray = desk.locator("canvas").bounding_box(), desk.get_by_label("Text", exact=True).bounding_box()
    assert canvas["x"] >= tray["x"] + tray["width"] and canvas["width"] >= 700
    field = desk.locator("[data-test=words]").first
    field.fill("TWO\nLINES")
    until(lambda: clip(running)["content"]["text"] == "TWO\nLINES")
    field.fill("THE SLOW HARVEST")
    until(lambda: clip(running)["content"]["text"] == "THE SLOW HARVEST")


def test_knees_trims_and_gauges_shape_the_title(desk, running, exported):
    def drag(what, by):
        box = what.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        desk.mouse.move(x, y)
        desk.mouse.down()
        for part in range(1, 6):
            desk.mouse.move(x + by * part / 5, y)
        desk.mouse.up()

    desk.keyboard.press("s")  # no snapping: to the frame
    scale = desk.locator("[data-clip=title]").bounding_box()["width"] / clip(running)["length"]
    drag(desk.locator("[data-clip=title] [data-test=knee-arrival]"), -20 * scale)
    until(lambda: clip(running)["arrival"] == 20)
    drag(desk.locator("[data-clip=title] [data-test=trim-tail]"), -25 * scale)
    until(lambda: clip(running)["length"] == 125)
    # The departure is whole on the new last frame.
    opacity = clip(running)["steps"][1]["values"]["opacity"]["keys"]
    assert [(key["counts_from"], key["at"]) for key in opacity] == [
        ("head", 0),
        ("head", 20),
        ("tail", -30),
        ("tail", 0),
    ]
    # Softness by keyboard on the gauge, and by typing.
    gauge = desk.locator("[data-test=arrival-end]").get_by_role("slider")
    gauge.focus()
    desk.keyboard.press("ArrowRight")
    until(lambda: clip(running)["steps"][0]["values"]["radius"]["keys"][0]["ease"]["end"] == pytest.approx(0.76))
    desk.locator("[data-test=departure-length]").get_by_role("button").click()
    desk.keyboard.type("0.4s")
    desk.keyboard.press("Enter")
    until(lambda: clip(running)["departure"] == 10)
    go_to(desk, "1:12")
    pixels = settled_pixels(desk, 37)
    assert psnr(pixels, exported(37, pixels)) >= 35
    for _ in range(4):
        desk.keyboard.press("Control+z")
    until(lambda: (clip(running)["arrival"], clip(running)["departure"], clip(running)["length"]) == (40, 30, 150))


def test_a_step_switched_off_is_off_and_a_gauge_says_its_value(desk, running):
    desk.get_by_role("button", name=re.compile("^Focus blur")).click()
    go_to(desk, "1s")
    until(lambda: desk.get_by_role("slider", name="Radius").get_attribute("aria-valuetext") == "22 px")
    go_to(desk, "1:10")
    with_blur = settled_pixels(desk, 35)
    desk.get_by_role("switch", name="Focus blur on").click()
    until(lambda: not clip(running)["steps"][0]["on"])
    assert np.abs(settled_pixels(desk, 35) - with_blur).max() > 20
    desk.keyboard.press("Control+z")
    until(lambda: clip(running)["steps"][0]["on"])


def test_playing_moves_on_and_stops_where_it_is_paused(desk):
    go_to(desk, "1s")
    settled(desk, 25)
    desk.keyboard.press("Space")
    until(lambda: int(desk.locator("canvas").get_attribute("data-frame")) > 60)
    assert "late" in desk.locator("[data-test=preview-state]").inner_text()
    desk.keyboard.press("Space")
    frame = int(desk.locator("canvas").get_attribute("data-frame"))
    settled(desk)
    assert 60 < frame <= int(desk.locator("canvas").get_attribute("data-frame")) < 199


def test_a_range_is_exported_and_plays_in_the_page_as_it_was_previewed(desk, running, as_it_was):
    for at, key in (("1s", "i"), ("5s", "o"), ("2:00", None)):
        go_to(desk, at)
        if key:
            desk.keyboard.press(key)
    previewed = settled_pixels(desk, 50)
    desk.get_by_role("button", name="Export", exact=True).click()
    desk.get_by_role("radio", name="in to out").click()
    desk.locator("[data-test=export]").click()
    desk.get_by_role("progressbar").wait_for()
    film = desk.locator("[data-test=film]")
    film.wait_for(timeout=240_000)
    assert film.evaluate(
        "film => new Promise(done => { const tell = () => done([film.videoWidth, film.videoHeight, film.duration]);"
        " film.readyState ? tell() : film.onloadedmetadata = tell })"
    ) == [1280, 720, 4]
    height, width = previewed.shape[:2]
    data = film.evaluate(
        """async (film, [width, height]) => {
          await new Promise(done => { film.onseeked = done; film.currentTime = 25.5 / 25 });
          const canvas = document.createElement('canvas');
          [canvas.width, canvas.height] = [1280, 720];
          canvas.getContext('2d').drawImage(film, 0, 0);
          return canvas.toDataURL('image/png');
        }""",
        [width, height],
    )
    shown = cv2.imdecode(np.frombuffer(base64.b64decode(data.split(",")[1]), np.uint8), cv2.IMREAD_COLOR)[..., ::-1]
    small = cv2.resize(shown, (width, height), interpolation=cv2.INTER_AREA).astype(float)
    assert psnr(small, previewed) >= 33
    # It is deleted by two presses; where the pointer leaves between them the first one is taken back.
    own = desk.locator("[data-test=job-done]").first
    count = len(list((running.home / "films").glob("*.mp4")))
    own.locator("[data-test=delete-export]").click()
    own.locator("[data-test=save]").hover()
    own.locator("[data-test=delete-export]", has_text=re.compile("^delete$")).click()
    own.locator("[data-test=delete-export]", has_text="delete it for good").click()
    film.wait_for(state="detached")
    until(lambda: len(list((running.home / "films").glob("*.mp4"))) == count - 1)


def test_an_export_can_be_cancelled(running):
    job = running.api("POST", "/projects/slow-harvest/exports", json={}).json()
    until(lambda: running.api("GET", f"/exports/{job['id']}").json()["frames_done"] > 0)
    running.api("DELETE", f"/exports/{job['id']}")
    until(lambda: not list((running.home / "films").glob(".*")))
    assert running.api("GET", f"/exports/{job['id']}").json()["state"] == "cancelled"
    assert running.api("GET", f"/exports/{job['id']}/film").status_code == 404


def test_an_episode_title_is_made_from_nothing_in_few_actions(page, running):
    """Two lines, centred, with opacity and focus at both ends, a slow push and a slow rise: every click, key and typed
    value counts."""
    made = running.api("POST", "/projects", json={"name": "Episode two"}).json()
    page.goto(f"{running.address}/?project={made['id']}")
    page.locator("[data-test=add-title]").wait_for()
    actions = 0

    def act(what):
        nonlocal actions
        what()
        actions += 1

    def project():
        return running.api("GET", f"/projects/{made['id']}").json()["project"]

    def add(step):
        act(page.locator("[data-test=add-step]").click)
        page.get_by_label("Name of the step").fill(step)
        act(lambda: page.keyboard.press("Enter"))

    act(lambda: page.keyboard.press("t"))
    page.locator("[data-test=type-here]").wait_for(state="attached")
    act(lambda: page.keyboard.type("THE SLOW HARVEST"))
    act(lambda: page.keyboard.press("Escape"))
    act(page.get_by_role("button", name=re.compile("^Arrival and departure")).click)
    act(page.locator("[data-test=arrival-length]").get_by_role("button").click)
    act(lambda: (page.keyboard.type("1.6s"), page.keyboard.press("Enter")))
    add("focus in")
    add("slow push")
    add("slow rise")
    act(lambda: page.keyboard.press("2"))
    until(lambda: len(project()["clips"]) == 1 and next(iter(project()["clips"].values()))["departure"] == 40)
    act(lambda: page.keyboard.press("Shift+T"))
    page.locator("[data-test=type-here]").wait_for(state="attached")
    act(lambda: page.keyboard.type("Episode two: The swarm"))
    first, second = sorted(
        until(
            lambda: (
                (found := list(project()["clips"].values()))
                and len(found) == 2
                and found[1]["content"]["text"] != "Second line"
                and found
            )
        ),
        key=lambda clip: clip["head"],
    )
    assert actions <= 18
    assert (second["head"], second["head"] + second["length"]) == (first["head"] + 10, first["head"] + first["length"])
    assert second["content"]["size"]["value"] < 0.6 * first["content"]["size"]["value"]
    radius = next(step["values"]["radius"] for step in first["steps"] if step["kind"] == "focus_blur")
    assert [(key["counts_from"], key["at"], key["value"]) for key in radius["keys"]] == [
        ("head", 0, 24),
        ("head", 40, 0),
        ("tail", -40, 0),
        ("tail", 0, 24),
    ]
    travels = [
        [key["value"] for key in step["values"]["y"]["keys"]]
        for clip in (first, second)
        for step in clip["steps"]
        if "keys" in step["values"].get("y", {})
    ]
    # The upper line rises, the lower sinks by as much.
    assert travels[0] == [6, -6] and travels[1][1] - travels[1][0] == pytest.approx(12)
    running.api("DELETE", f"/projects/{made['id']}")


DROP = """async ([name, data]) => {
  const bytes = Uint8Array.from(atob(data), letter => letter.charCodeAt(0));
  const carried = new DataTransfer();
  carried.items.add(new File([bytes], name, { type: 'video/mp4' }));
  const under = document.elementFromPoint(500, 200);
  for (const kind of ['dragover', 'drop'])
    under.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
}"""


def _beginning(running, shot, folder):
    """The first two seconds of a shot, as a file of its own: a short film is exported sooner."""
    source, path = cv2.VideoCapture(str(running.home / "media" / shot["path"])), folder / "short.mp4"
    with FilmWriter(path, shot["width"], shot["height"], Fraction(25)) as film:
        for _ in range(50):
            film.write(cv2.cvtColor(source.read()[1], cv2.COLOR_BGR2RGBA))
    return path.read_bytes()


def test_a_first_title_is_dropped_chosen_typed_and_exported_in_seven_actions(page, running, tmp_path):
    made = running.api("POST", "/projects", json={"name": "First film"}).json()
    shot = running.project()["project"]["media"]["hands-jars"]
    page.goto(f"{running.address}/?project={made['id']}")
    page.locator("[data-test=empty]").get_by_text("anywhere on the page").wait_for()
    page.evaluate(DROP, ["jars.mp4", base64.b64encode(_beginning(running, shot, tmp_path)).decode()])  # 1
    page.locator("[data-test=next]").wait_for()  # the next act is told in place
    page.keyboard.press("y")  # 2
    page.locator("[data-recipe=skep]").click()  # 3
    page.locator("[data-test=type-here]").wait_for(state="attached")
    page.keyboard.type("Sweet water\nfrom the heath")  # 4

    def title():
        found = running.api("GET", f"/projects/{made['id']}").json()["project"]["clips"].values()
        return next((each for each in found if each["content"]["kind"] == "text"), None)

    until(lambda: title() and title()["content"]["text"] == "Sweet water\nfrom the heath")
    page.get_by_role("button", name="Export", exact=True).click()  # 5
    page.locator("[data-test=export]").click()  # 6
    page.locator("[data-test=film]").wait_for(timeout=240_000)
    with page.expect_download() as saved:
        page.get_by_role("link", name="save a copy").click()  # 7
    film = cv2.VideoCapture(str(saved.value.path()))
    middle = title()["head"] + title()["length"] // 2
    film.set(cv2.CAP_PROP_POS_FRAMES, middle)
    exported = film.read()[1][..., ::-1].astype(float)
    out = tmp_path / "own.png"
    assert running.command("frame", made["id"], "--at", str(middle), "--out", str(out)).returncode == 0
    assert psnr(exported, cv2.imread(str(out))[..., ::-1].astype(float)) >= 33
    # The film is as large as its first shot, and the words are there.
    assert exported.shape == (shot["height"], shot["width"], 3) and title()["recipe"] == "skep"


def test_what_was_painted_ahead_plays_in_full_size_and_lies_ready_after_a_restart(page, tmp_path, monkeypatch):
    monkeypatch.setenv("IDLE_COMET_PREFETCH", "always")
    lend_demo(tmp_path)
    server = Running(tmp_path).start()
    try:
        assert server.edit({"kind": "set_range", "first": 40, "last": 60}).status_code == 200
        line = page.locator("[data-test=cached]")

        def ready():
            spans = (line.get_attribute("data-frames") or "").split()
            return any(int(span.split("–")[0]) <= 40 and int(span.split("–")[1]) >= 60 for span in spans)

        page.goto(f"{server.address}/?project=slow-harvest")
        settled(page)
        go_to(page, "40")
        until(lambda: line.count() and ready(), 90)
        page.keyboard.press("l")
        said = page.locator("[data-test=preview-state]")
        until(lambda: "late" in said.inner_text())
        width = page.locator("[data-test=preview]").evaluate("(canvas) => canvas.width")
        page.keyboard.press("Space")
        settled(page)
        assert width == min(704, page.locator("[data-test=preview]").evaluate("(canvas) => canvas.width"))
        kept = {file: file.stat().st_mtime_ns for file in (tmp_path / "frames").rglob("*") if file.is_file()}
        server.stop()
        server.start()
        page.goto(f"{server.address}/?project=slow-harvest")
        settled(page)
        until(lambda: line.count() and ready(), 90)
        assert kept and all(file.stat().st_mtime_ns == at for file, at in kept.items())
    finally:
        server.stop()
