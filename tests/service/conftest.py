import cv2
import numpy as np
import pytest


@pytest.fixture
def made(running):
    """A film of its own: a black ground, a white title."""
    project = running.api("POST", "/projects", json={"name": "Motion"}).json()

    class Film:
        id = project["id"]

        def state(self):
            return running.api("GET", f"/projects/{self.id}").json()

        def clip(self, id):
            return self.state()["project"]["clips"][id]

        def edit(self, **edit):
            return running.api(
                "POST", f"/projects/{self.id}/edits", json={"revision": self.state()["revision"], "edit": edit}
            )

        def get(self, path, **more):
            return running.api("GET", f"/projects/{self.id}{path}", **more)

        def post(self, path, body):
            return running.api("POST", f"/projects/{self.id}{path}", json=body).json()

        def picture(self, frame):
            data = self.get("/frame", params={"at": frame, "quality": 100}).content
            return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE).astype(float)

    film = Film()
    for clip in ({"kind": "add_title", "clip": "title", "frame": 0, "text": "SWARM"},):
        assert film.edit(**clip).status_code == 200
    yield film
    running.api("DELETE", f"/projects/{film.id}")
