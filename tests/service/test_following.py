"""Following a point through the service: begun, told, given up, refused."""

import math

import pytest

from idle_comet.demo.walker import Walker
from tests.conftest import until

FILM = "/projects/slow-harvest"


@pytest.fixture
def walk(running):
    """The shot of a walk laid behind the demo's film; taken away again with all that was done to it."""
    before = running.project()["project"]
    laid = {"kind": "add_picture", "clip": "walk", "frame": 620, "media": "walk-home", "track": "shots"}
    assert running.edit(laid).status_code == 200
    yield f"{FILM}/clips/walk/points"
    for _ in range(20):
        state = running.project()
        if state["project"] == before:
            return
        running.api("POST", f"{FILM}/undo", json={"revision": state["revision"]})
    raise AssertionError("undo did not lead back")


def clasp(frame):
    return Walker.clasp(Sized(), frame / 25)


class Sized(Walker):
    """Where the figure is, without a picture painted."""

    def __init__(self):
        self.unit = 1.0


def over(running, job):
    """A following once it is over."""

    def ended():
        found = running.api("GET", f"/following/{job}").json()
        return found if found["state"] not in ("waiting", "running") else None

    return until(ended, 60)


def points(running):
    return running.project()["project"]["clips"]["walk"]["content"]["points"]


def test_a_point_is_followed_and_entered_as_an_edit(running, walk):
    x, y = clasp(40)
    job = running.api("POST", walk, json={"at": 660, "x": x, "y": y, "name": "clasp"}).json()
    assert job["frames"] == 200 and job["state"] in ("waiting", "running")
    # The film may be edited meanwhile.
    assert running.edit({"kind": "change_settings", "name": "Meanwhile"}).status_code == 200
    done = over(running, job["id"])
    assert done["state"] == "done" and "hidden" in done["message"] and "found again" in done["message"]
    (point,) = points(running)
    assert point["name"] == "clasp" and point["id"] == job["point"] and len(point["x"]) == 200
    off = [math.dist((px, py), clasp(n)) for n, (px, py) in enumerate(zip(point["x"], point["y"]))]
    known = [each for each, sure in zip(off, point["sure"]) if sure >= 0.6]
    assert len(known) > 170 and sum(known) / len(known) <= 0.3 and max(known) < 1
    told = running.api("GET", f"{walk}?at=660").json()
    assert math.dist(told[0]["at"], (x, y)) < 0.2 and told[0]["by_hand"] and len(told[0]["lost"]) == 1
    # Followed on from another frame it is the same point.
    x, y = clasp(170)
    on = {"at": 790, "x": x, "y": y, "point": point["id"], "direction": "forward"}
    again = over(running, running.api("POST", walk, json=on).json()["id"])
    assert again["state"] == "done" and again["frames"] == 30
    (now,) = points(running)
    assert now["x"][:170] == point["x"][:170] and [each["frame"] for each in now["hand"]] == [40, 170]


def test_what_can_t_be_followed_is_said(running, walk):
    def said(**pick):
        answer = running.api("POST", walk, json={"at": 660, "x": 10, "y": 10, **pick})
        return answer.status_code, answer.json().get("detail", "")

    assert said(x=5000)[0] == 422 and "far outside" in said(x=5000)[1]
    assert said(x=-3)[0] == 422 and "pick a point on it" in said(x=-3)[1]
    assert said(at=10)[0] == 422 and "not there" in said(at=10)[1]
    assert said(point="gone")[0] == 422 and "no followed point" in said(point="gone")[1]
    title = running.api("POST", f"{FILM}/clips/title/points", json={"at": 60, "x": 640, "y": 360})
    assert title.status_code == 422 and "no shot" in title.json()["detail"]
    assert running.api("GET", "/following/nothing").status_code == 404
    # The last frame's sky is plain: that is found when the frame is read.
    plain = running.api("POST", walk, json={"at": 660, "x": 1000, "y": 20}).json()
    over_it = over(running, plain["id"])
    assert over_it["state"] == "failed" and "nothing to hold on to" in over_it["message"]
    assert points(running) == []


def test_a_following_is_given_up(running, walk):
    x, y = clasp(40)
    jobs = [running.api("POST", walk, json={"at": 660, "x": x, "y": y}).json()["id"] for _ in range(2)]
    for job in jobs:
        assert running.api("DELETE", f"/following/{job}").json()["state"] == "cancelled"
    assert {each["id"] for each in running.api("GET", f"{FILM}/following").json()} >= set(jobs)
    # The next one is followed all the same.
    job = running.api("POST", walk, json={"at": 660, "x": x, "y": y}).json()["id"]
    assert over(running, job)["state"] == "done" and len(points(running)) == 1
