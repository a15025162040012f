"""Who may ask, and what is turned away before it is read."""

import json

import pytest
from fastapi import FastAPI
from starlette.testclient import TestClient

from idle_comet.service.bodies import DEEPEST, wrong
from idle_comet.service.guard import Guard, addresses_of
from idle_comet.service.problems import plainly


def asked(secret=None, hosts=frozenset({"127.0.0.1", "localhost", "studio.local"}), client="127.0.0.1"):
    app = FastAPI()

    @app.get("/api/frame")
    def frame() -> str:
        return "painted"

    @app.get("/")
    def desk() -> str:
        return "desk"

    app.add_middleware(Guard, hosts=hosts, secret=secret)
    return TestClient(app, base_url="http://127.0.0.1", client=(client, 5000), follow_redirects=False)


@pytest.mark.parametrize(
    "headers, status",
    [
        ({}, 200),
        ({"host": "localhost:4180"}, 200),
        ({"host": "elsewhere.example"}, 403),
        ({"host": "["}, 400),
        ({"host": "[::1"}, 400),
        ({"origin": "http://["}, 400),
        ({"origin": "http://elsewhere.example"}, 403),
        ({"origin": "null"}, 403),
        ({"origin": "http://127.0.0.1"}, 200),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"sec-fetch-site": "same-site"}, 403),
        ({"sec-fetch-site": "same-origin"}, 200),
        ({"sec-fetch-site": "none"}, 200),
    ],
)
def test_only_pages_of_this_server_may_ask(headers, status):
    answer = asked().get("/api/frame", headers=headers)
    assert answer.status_code == status and (status == 200 or answer.json()["detail"].endswith("."))
    assert (
        answer.headers["x-content-type-options"] == "nosniff"
        and answer.headers["cross-origin-resource-policy"] == "same-origin"
    )


def test_a_link_from_elsewhere_opens_the_desk_but_paints_nothing():
    assert asked().get("/", headers={"sec-fetch-site": "cross-site"}).status_code == 200


def test_beyond_this_machine_the_secret_is_wanted_once():
    far = asked("bees", client="10.1.2.3")
    there = {"host": "studio.local:4180"}
    assert far.get("/api/frame", headers=there).status_code == 401
    assert far.get("/api/frame?secret=wasps", headers=there).status_code == 401
    entered = far.get("/?secret=bees&film=3", headers=there)
    assert entered.status_code == 303 and entered.headers["location"] == "/?film=3"
    cookie = entered.headers["set-cookie"]
    assert "HttpOnly" in cookie and "SameSite=strict" in cookie
    assert far.get("/api/frame", headers={**there, "cookie": cookie.split(";")[0]}).status_code == 200
    # A name of this machine, said by a stranger, opens nothing.
    assert far.get("/api/frame", headers={"host": "localhost", "cookie": cookie.split(";")[0]}).status_code == 403


def test_a_server_knows_the_names_it_is_reached_by():
    assert addresses_of("127.0.0.1") == {"127.0.0.1", "localhost", "::1"}
    assert "0.0.0.0" not in addresses_of("0.0.0.0") and len(addresses_of("0.0.0.0")) > 3
    assert "10.0.0.7" in addresses_of("10.0.0.7")


@pytest.mark.parametrize(
    "body, says",
    [
        (b'{"a": "\\u0000"}', "NUL"),
        (b'"\\ud800"', "half"),
        (b'"\\udc00 x"', "half"),
        (b"\xff", "UTF-8"),
        (b"[" * 100 + b"]" * 100, "levels"),
        (b'{"a":' * 5000 + b"1" + b"}" * 5000, "levels"),
    ],
)
def test_what_nothing_can_store_is_turned_away(body, says):
    assert says in wrong(body)


@pytest.mark.parametrize(
    "body",
    [
        json.dumps("😀 \\u0000").encode(),
        json.dumps({"a": "[" * 500 + '"' + "{" * 500}).encode(),
        b'"\\\\u0000"',
        b"[" * DEEPEST + b"]" * DEEPEST,
        b"",
    ],
)
def test_what_only_looks_odd_goes_on(body):
    assert wrong(body) is None


def test_no_sentence_shows_a_path_of_the_machine():
    assert plainly(ValueError("no such file: '/work/home/media/abc.mp4' there")) == "no such file: a file there"
    assert plainly(OSError(28, "No space left on device", "/x/y")).startswith("The disk is full")
    assert plainly(ValueError("24/7 and 1/2")) == "24/7 and 1/2"
