"""Recipes of several clips over the wire: kept, shared as files with their media, and clips taken to another film."""

import json

import pytest


@pytest.fixture(scope="module")
def film(running):
    """A film with a group of an emblem's pieces, which are pictures."""
    made = running.api("POST", "/projects", json={"name": "Pieces"}).json()
    media = running.project()["project"]["media"]
    edits = [
        *({"kind": "add_media", "media": media[id]} for id in ("emblem-hexagon", "emblem-stroke", "chime")),
        {"kind": "add_picture", "clip": "hexagon", "frame": 10, "media": "emblem-hexagon"},
        {"kind": "add_picture", "clip": "stroke", "frame": 10, "media": "emblem-stroke"},
        {"kind": "gather_clips", "clips": ["hexagon", "stroke"], "group": "emblem", "name": "Emblem"},
        {"kind": "add_picture", "clip": "chime", "frame": 20, "media": "chime"},
    ]
    several = {"kind": "several", "label": "pieces", "edits": edits}
    answer = running.api("POST", f"/projects/{made['id']}/edits", json={"revision": made["revision"], "edit": several})
    assert answer.status_code == 200, answer.text
    return made["id"]


def state(running, id):
    return running.api("GET", f"/projects/{id}").json()


def test_they_are_kept_shared_with_their_media_and_taken_away(running, film, tmp_path):
    ours = [each for each in running.api("GET", "/ensembles").json() if not each["own"]]
    assert len(ours) >= 8 and not any(each["missing"] for each in ours)
    body = {"clips": ["emblem", "chime"], "name": "Ours", "sort": "emblem"}
    kept = running.api("POST", f"/projects/{film}/ensembles", json=body).json()
    id = kept["ensemble"]["id"]
    assert {part["kind"] for part in kept["ensemble"]["parts"]} == {"picture", "sound"}
    text = running.api("GET", f"/ensembles/{id}/file").text
    assert len(json.loads(text)["files"]) == 3
    assert running.api("DELETE", f"/ensembles/{id}").status_code == 204
    assert running.api("DELETE", f"/ensembles/{id}").status_code == 404
    # On a machine that has none of its pictures.
    for path in json.loads(text)["files"]:
        for each in (running.home / "media").glob(f"{path.split('.')[0]}*"):
            each.rename(tmp_path / each.name)
    try:
        again = running.api("POST", "/ensembles", json={"text": text}).json()
        assert again["own"] and not again["missing"] and again["ensemble"] == kept["ensemble"]
        picture = running.api("GET", f"/projects/{film}/ensembles/{id}/moments", params={"tiles": 2, "at": 0})
        assert picture.status_code == 200 and picture.headers["content-type"] == "image/jpeg"
    finally:
        for each in tmp_path.iterdir():
            each.replace(running.home / "media" / each.name)
        running.api("DELETE", f"/ensembles/{id}")
    assert "ships with" in running.api("DELETE", "/ensembles/end-card").json()["detail"]


def test_clips_are_taken_to_another_film_with_their_media(running, film):
    other = running.api("POST", "/projects", json={"name": "Other", "width": 640, "height": 360}).json()
    taken = running.api("GET", f"/projects/{film}/taken", params={"clips": ["emblem"]}).json()
    edit = {"kind": "use_ensemble", "ensemble": taken, "frame": 5, "seed": "n"}
    answer = running.api("POST", f"/projects/{other['id']}/edits", json={"revision": other["revision"], "edit": edit})
    assert answer.status_code == 200, answer.text
    project = state(running, other["id"])["project"]
    assert {each["name"] for each in project["media"].values()} == {"Emblem, hexagon", "Emblem, stroke"}
    groups = [clip for clip in project["clips"].values() if clip["content"]["kind"] == "group"]
    assert len(groups) == 1 and groups[0]["head"] == 5 and len(project["clips"]) == 3
    undone = running.api("POST", f"/projects/{other['id']}/undo", json={"revision": answer.json()["revision"]})
    assert undone.status_code == 200 and not state(running, other["id"])["project"]["clips"]


@pytest.mark.parametrize(
    "change, why",
    [
        (lambda file: file["files"].update({next(iter(file["files"])): "????"}), "no base64"),
        (lambda file: file["files"].update({next(iter(file["files"])): "QUJD"}), "is not what the file says"),
        (lambda file: file.update(files=[1]), "no texts by name"),
        (lambda file: file["film"].update(clips={"x": {}}), "can't be read at film.clips"),
    ],
)
def test_a_file_that_lies_is_refused_with_a_sentence(running, change, why):
    file = json.loads(running.api("GET", "/ensembles/end-card/file").text)
    file["id"] = "someone-else"
    change(file)
    for media in file["film"].get("media", {}).values():
        # Of media that are not here yet.
        if why in ("no base64", "is not what the file says") and media["path"] in file["files"]:
            old, media["hash"] = media["path"], "b" * 64
            media["path"] = f"{'b' * 64}.flac"
            file["files"][media["path"]] = file["files"].pop(old)
            if len(file["files"][media["path"]]) < 10:
                break
    answer = running.api("POST", "/ensembles", json={"text": json.dumps(file)})
    assert answer.status_code == 422 and why in answer.json()["detail"], answer.text
