"""Cutting and timing in the Desk: by mouse, by keyboard, many clips at once."""

import numpy as np
import pytest

from tests.conftest import until

from .helpers import canvas_pixels, clip, clips, command, drag, go_to, middle, psnr, settled, settled_pixels

pytestmark = pytest.mark.usefixtures("as_it_was")


def take(desk, name):
    desk.locator(f"[data-clip={name}]").click(position={"x": 30, "y": 20})


def test_all_titles_are_made_shorter_in_one_act_and_longer_again(desk, running):
    names = ("title", "second-line", "name", "place-line", "end-line")
    before = clips(running)
    desk.keyboard.press("Shift+A")
    command(desk, "shorter by 1s")
    until(lambda: all(clips(running)[name]["length"] == before[name]["length"] - 25 for name in names))
    now = clips(running)
    assert all(
        (now[name]["arrival"], now[name]["departure"], now[name]["head"])
        == (before[name]["arrival"], before[name]["departure"], before[name]["head"])
        for name in names
    )
    command(desk, "longer by 0.5s")
    until(lambda: all(clips(running)[name]["length"] == before[name]["length"] - 12 for name in names))
    desk.keyboard.press("Control+z")
    desk.keyboard.press("Control+z")
    until(lambda: clips(running) == before)


def test_a_shot_trimmed_with_the_rest_takes_its_titles_along(desk, running, exported):
    before = clips(running)
    take(desk, "shot-heath-evening")
    go_to(desk, "7:00")
    desk.keyboard.press("Shift+W")
    until(lambda: clips(running)["shot-heath-evening"]["length"] == 175)
    now = clips(running)
    by = 175 - 213
    for name in ("shot-ottoline-bench", "shot-hands-jars", "name", "place-line", "end-line"):
        assert now[name]["head"] == before[name]["head"] + by
    assert now["title"]["head"] == before["title"]["head"]
    pixels = settled_pixels(desk)
    frame = int(desk.locator("canvas").get_attribute("data-frame"))
    assert psnr(pixels, exported(frame, pixels)) >= 35
    # A shot trimmed so far that a title hangs over is said, and found by a click.
    take(desk, "shot-ottoline-bench")
    desk.keyboard.press("s")
    command(desk, "shorter by 4s")
    desk.locator("[data-test=misfits]").click()
    until(lambda: desk.locator("[data-clip=place-line] .face").get_attribute("aria-pressed") == "true")


def test_clips_are_gone_round_moved_together_and_drawn_to_what_is_near(desk, running):
    scale = desk.locator("[data-clip=title]").bounding_box()["width"] / clip(running)["length"]
    # A shot that moves shows its first and last framing; one that stands shows none.
    desk.locator("[data-clip=shot-ottoline-bench] [data-test=framing]").nth(1).wait_for()
    assert desk.locator("[data-clip=shot-heath-evening] [data-test=framing]").count() == 0
    lane = desk.locator("[data-clip=name]").bounding_box()
    low = desk.locator("[data-clip=place-line]").bounding_box()
    drag(desk, lane["x"] - 30, lane["y"] + 3, lane["width"] + 60, low["y"] + low["height"] - lane["y"] - 8)
    until(
        lambda: (
            [
                desk.locator(f"[data-clip={name}] .face").get_attribute("aria-pressed")
                for name in ("name", "place-line", "title")
            ]
            == ["true", "true", "false"]
        )
    )
    x, y = middle(desk.locator("[data-clip=name]"))
    # The bench shot begins at 213; the first head is let go two frames after it and drawn onto it.
    desk.mouse.move(x, y)
    desk.mouse.down()
    for part in range(1, 6):
        desk.mouse.move(x + (215 - 250) * scale * part / 5, y)
    until(lambda: clips(running)["name"]["head"] == 213)
    until(lambda: desk.locator("[data-test=meeting]").count() > 0)
    desk.mouse.up()
    until(lambda: clips(running)["place-line"]["head"] == 233)
    desk.keyboard.press("Control+z")
    until(lambda: clips(running)["name"]["head"] == 250)


def test_a_clip_is_cut_duplicated_pasted_hidden_and_closed_up_by_keys(desk, running, tmp_path):
    go_to(desk, "4:00")
    whole = settled_pixels(desk, 100)
    desk.keyboard.press("x")

    def parts():
        named = [each for each in clips(running).values() if each["name"] == "THE SLOW HARVEST"]
        return [each for each in named if each["skipped"] + each["cut_off"] == 150 - each["length"]]

    halves = until(lambda: len(parts()) == 2 and parts())
    assert sorted(each["length"] for each in halves) == [75, 75]
    assert psnr(settled_pixels(desk, 100), whole) > 45
    half = next(each for each in halves if each["skipped"])
    desk.locator(f"[data-clip={half['id']}]").click(position={"x": 40, "y": 20})
    desk.keyboard.press("d")
    until(lambda: len(clips(running)) == 10)
    desk.keyboard.press("h")
    until(lambda: any(each["seen"] == "hidden" for each in clips(running).values()))
    desk.keyboard.press("Control+c")
    go_to(desk, "16:00")
    desk.keyboard.press("Control+v")
    until(lambda: len(clips(running)) == 11)
    take(desk, "shot-ottoline-bench")
    desk.keyboard.press("Shift+Delete")
    until(lambda: clips(running)["shot-hands-jars"]["head"] == 213 and clips(running)["end-line"]["head"] == 500 - 209)


def test_what_is_taken_in_hand_while_something_is_made_stays_in_hand(desk, running):
    held = []
    desk.route("**/edits", lambda route: held.append(route))
    take(desk, "title")
    desk.keyboard.press("d")
    until(lambda: desk.wait_for_timeout(20) or held)
    take(desk, "second-line")
    held[0].continue_()
    until(lambda: len(clips(running)) == 9)
    faces = desk.locator("[data-clip] [aria-pressed=true]")
    desk.locator("[data-clip]").nth(8).wait_for()
    desk.wait_for_timeout(200)
    assert faces.count() == 1 and desk.locator("[data-clip=second-line] [aria-pressed=true]").count() == 1
    desk.unroute("**/edits")
    desk.keyboard.press("d")
    until(lambda: len(clips(running)) == 10)
    until(lambda: desk.locator("[data-clip=second-line] [aria-pressed=false]").count() == 1 and faces.count() == 1)
    # Of two that are made one after the other it is the later.
    desk.route("**/edits", lambda route: held.append(route) or route.continue_())
    desk.keyboard.press("d")
    desk.keyboard.press("d")
    until(lambda: desk.wait_for_timeout(20) or len(clips(running)) == 12)
    later = held[-1].request.post_data_json["edit"]["seed"]
    until(lambda: desk.locator(f"[data-clip={later}-1] [aria-pressed=true]").count() == 1 and faces.count() == 1)
    desk.unroute("**/edits")


def test_a_dissolve_is_made_lengthened_by_hand_and_shown_as_exported(desk, running, exported):
    take(desk, "shot-ottoline-bench")
    go_to(desk, "8:14")
    command(desk, "dissolve 12f")
    until(lambda: (clips(running)["shot-ottoline-bench"]["opening"] or {}).get("length") == 12)
    go_to(desk, "8:13")
    pixels = settled_pixels(desk, 213)
    assert psnr(pixels, exported(213, pixels)) >= 35
    scale = desk.locator("[data-clip=title]").bounding_box()["width"] / clip(running)["length"]
    x, y = middle(desk.locator("[data-clip=shot-ottoline-bench] [data-test=join]"))
    drag(desk, x, y, 2 * scale)
    until(lambda: clips(running)["shot-ottoline-bench"]["opening"]["length"] == 16)
    command(desk, "dissolve 90f")
    desk.get_by_text("There is room for").wait_for()


def test_a_range_is_looped_and_exported_and_markers_are_named(desk, running):
    go_to(desk, "1:00")
    desk.keyboard.press("i")
    go_to(desk, "2:04")
    desk.keyboard.press("o")
    until(lambda: running.project()["project"]["range"]["last"] == 53)
    command(desk, "marker the swarm")
    until(
        lambda: any(
            each["name"] == "the swarm" and each["frame"] == 54
            for each in running.project()["project"]["marks"]["markers"]
        )
    )
    desk.get_by_role("button", name="loop range").click()
    go_to(desk, "1:10")
    settled(desk, 35)
    desk.keyboard.press("Space")
    seen = set()
    until(
        lambda: (
            seen.add(int(desk.locator("canvas").get_attribute("data-frame")))
            or (len(seen) > 12 and max(seen) >= 50 and min(seen) < 40 and list(seen))
        )
    )
    desk.keyboard.press("k")
    assert min(seen) >= 25 and max(seen) <= 53
    desk.keyboard.press("Shift+L")
    desk.get_by_role("button", name="Export", exact=True).click()
    desk.get_by_role("radio", name="in to out").click()
    desk.locator("[data-test=export]").click()
    job = until(
        lambda: next(
            (each for each in running.api("GET", "/projects/slow-harvest/exports").json() if each["frames"] == 29), None
        )
    )
    assert job["first_frame"] == 25


def test_a_track_is_named_hidden_locked_and_moved(desk, running):
    header = desk.locator("[data-track=titles]")
    header.hover()
    header.get_by_role("button", name="Hide track").click()
    until(lambda: running.project()["project"]["tracks"][0]["hidden"])
    header.get_by_role("button", name="Hide track").click()
    header.get_by_role("button", name="Lock track").click()
    until(lambda: running.project()["project"]["tracks"][0]["locked"])
    desk.keyboard.press("Delete")
    desk.get_by_text("is locked").wait_for()
    assert "title" in clips(running)
    header.get_by_role("button", name="Lock track").click()
    header.get_by_text("Titles").dblclick()
    desk.get_by_label("Name of the track").fill("Upper")
    desk.keyboard.press("Enter")
    until(lambda: running.project()["project"]["tracks"][0]["name"] == "Upper")
    box = header.bounding_box()
    drag(desk, box["x"] + 40, box["y"] + box["height"] / 2, 0, 190)
    until(lambda: running.project()["project"]["tracks"][0]["id"] == "second")


def test_speed_and_freeze_show_the_source_they_say(desk, running):
    take(desk, "shot-hands-jars")
    command(desk, "speed 50")
    until(lambda: clips(running)["shot-hands-jars"]["content"]["speed"]["value"] == 0.5)
    desk.get_by_text("Hands and jars, 50 %").wait_for()
    desk.keyboard.press("Control+z")
    go_to(desk, "20:00")
    before = settled_pixels(desk, 500)
    command(desk, "freeze this frame")
    until(lambda: clips(running)["shot-hands-jars"]["content"]["speed"]["value"] == 0)
    go_to(desk, "18:00")
    still = settled_pixels(desk, 450)
    rows = slice(0, int(still.shape[0] * 0.3))
    assert psnr(still[rows], before[rows]) > 40


def test_a_speed_moves_by_keys_and_what_is_seen_is_what_is_exported(desk, running, exported):
    """Down to 30 % within 30 frames, by hand; the shot keeps its length, and the keys are in its lane."""
    take(desk, "shot-hands-jars")
    go_to(desk, "18:00")
    whole = clips(running)["shot-hands-jars"]
    desk.locator("[data-test=clip-row] .names").click()
    row = desk.locator("[data-test=clip-row] .value-row").filter(has_text="Speed")
    row.locator(".state").click()
    assert row.get_by_role("menuitem").all_inner_texts() == ["fixed", "moving"]
    row.get_by_role("menuitem", name="moving").click()
    go_to(desk, "19:05")
    row.locator(".value").click()
    row.locator("input").fill("30")
    desk.keyboard.press("Enter")

    def keys():
        return clips(running)["shot-hands-jars"]["content"]["speed"].get("keys", [])

    until(lambda: [key["value"] for key in keys()] == [1.0, 0.3])
    assert [key["at"] for key in keys()] == [450 - whole["head"], 480 - whole["head"]]
    assert clips(running)["shot-hands-jars"]["length"] == whole["length"]
    desk.get_by_text("Hands and jars, speed ramp").wait_for()
    desk.get_by_text("Speed, %", exact=True).wait_for()
    go_to(desk, "21:00")
    shown = settled_pixels(desk, 525)
    assert psnr(shown, exported(525, shown)) > 38
    desk.get_by_text("mixed frames").click()
    until(lambda: clips(running)["shot-hands-jars"]["content"]["between"] == "mixed")


@pytest.mark.alone
def test_the_film_can_be_scrolled_and_zoomed_with_two_thousand_clips(page, running):
    """No frame interval to be trusted on a shared machine is asserted here (bench/desk.py measures it): only what is
    drawn is looked at."""
    made = running.api("POST", "/projects", json={"name": "Two thousand"}).json()
    tracks = [{"id": f"t{i}", "name": f"T{i}"} for i in range(4)]
    edits = [{"kind": "add_track", "track": track} for track in tracks]
    edits += [
        {
            "kind": "add_clip",
            "clip": {
                "id": f"c{n}",
                "track": f"t{n % 4}",
                "name": f"Title {n}",
                "head": n // 4 * 60,
                "length": 50,
                "arrival": 8,
                "departure": 8,
                "content": {"kind": "text", "text": f"Title {n}"},
            },
        }
        for n in range(2000)
    ]
    answer = running.api(
        "POST",
        f"/projects/{made['id']}/edits",
        json={"revision": made["revision"], "edit": {"kind": "several", "label": "many", "edits": edits}},
    )
    assert answer.status_code == 200
    page.goto(f"{running.address}/?project={made['id']}")
    page.locator("[data-clip=c0]").wait_for()
    page.keyboard.press("Escape")
    # Too narrow to be told apart they are drawn together; a click on them leads closer, until they can be.
    crowd = page.locator("button.crowd").first
    assert page.locator("[data-clip]").count() < 20
    crowd.click(position={"x": 200, "y": 10})
    crowd.wait_for(state="detached")
    until(lambda: 20 < page.locator("[data-clip]").count() < 400)
    for _ in range(14):
        page.keyboard.press("+")
    until(lambda: page.locator("[data-clip]").count() < 400)
    page.keyboard.press("End")
    until(lambda: page.locator("[data-clip=c1999]").count() == 1 and page.locator("[data-clip=c0]").count() == 0)
    # A machine that is shared takes its time for the courses of all that was in sight on the way.
    page.locator("[data-clip=c1999] svg .top").wait_for(state="attached", timeout=120_000)
    running.api("DELETE", f"/projects/{made['id']}")


def test_variants_side_by_side_are_picked_by_a_click(desk, running):
    go_to(desk, "1:20")
    settled(desk, 45)
    desk.keyboard.press("5")
    grid = desk.locator("[data-test=beside-grid]")
    grid.get_by_role("option").nth(8).wait_for()
    settled(desk, 45)
    picture = canvas_pixels(desk)
    height, width = picture.shape[:2]
    tiles = [
        picture[
            height * row // 3 + 20 : height * (row + 1) // 3 - 20,
            width * column // 3 + 20 : width * (column + 1) // 3 - 20,
        ]
        for row in range(3)
        for column in range(3)
    ]
    assert np.abs(tiles[1] - tiles[2]).max() > 40
    grid.get_by_role("option", name="spring").click()
    until(lambda: clip(running)["steps"][0]["values"]["radius"]["keys"][0]["ease"]["kind"] == "spring")
    assert clip(running)["steps"][0]["values"]["radius"]["keys"][2]["ease"]["kind"] == "strengths"


def test_ends_of_all_clips_in_hand_are_trimmed_together_and_one_is_cut_under_the_pointer(desk, running):
    before = clips(running)
    desk.keyboard.press("s")
    scale = desk.locator("[data-clip=title]").bounding_box()["width"] / clip(running)["length"]
    desk.keyboard.press("Shift+A")
    x, y = middle(desk.locator("[data-clip=title] [data-test=trim-tail]"))
    drag(desk, x, y, -20 * scale)
    until(
        lambda: all(
            clips(running)[name]["length"] == before[name]["length"] - 20
            for name in ("title", "second-line", "name", "place-line", "end-line")
        )
    )
    desk.keyboard.press("Control+z")
    until(lambda: clips(running) == before)
    box = desk.locator("[data-clip=end-line]").bounding_box()
    desk.mouse.move(box["x"] + 50 * scale, box["y"] + 20)
    desk.keyboard.press("Shift+X")
    until(lambda: abs(clips(running)["end-line"]["length"] - 50) <= 1 and clips(running)["end-line"]["cut_off"] > 0)


def test_a_transition_that_lacks_spare_frames_comes_with_the_trim_that_makes_room(empty, desk):
    shot = {"kind": "add_picture", "track": "shots"}
    assert empty.edit({**shot, "clip": "one", "frame": 0, "media": "walk-home"}).status_code == 200
    end = clips(empty)["one"]["length"]
    assert empty.edit({**shot, "clip": "two", "frame": end, "media": "heath-evening"}).status_code == 200
    desk.locator("[data-clip=two] .face").click()
    go_to(desk, str(end))
    command(desk, "dissolve at the nearer end")
    desk.locator(".problem").get_by_text("spare frames").wait_for()
    desk.locator("[data-test=offer]").get_by_text("trim 12 frames at the cut").click()
    until(lambda: (clips(empty)["two"]["opening"] or {}).get("length") == 12)
    assert (clips(empty)["one"]["length"], clips(empty)["two"]["head"]) == (end - 6, end - 6)
    desk.keyboard.press("Control+z")
    until(lambda: clips(empty)["one"]["length"] == end and not clips(empty)["two"]["opening"])
