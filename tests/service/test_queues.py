"""Queues outlive what goes wrong beside them."""

import multiprocessing
import os
import threading
from multiprocessing.connection import Connection

import pymysql
import pytest

from idle_comet.core.project.model import Project, Settings
from idle_comet.service import exports
from idle_comet.service.exports import Exports, time_left
from idle_comet.service.painting import FrameRequest, Painted
from idle_comet.service.painting.pool import PainterProcess, _Pool
from tests.conftest import until

FILM = Project(settings=Settings(name="T"))
REQUEST = FrameRequest(0, 64, 36, False, 80)


class Broken:
    """A database that fails so many times and then has nothing to do."""

    def __init__(self, times):
        self.times, self.asked = times, 0

    def run(self, work):
        self.asked += 1
        if self.asked <= self.times:
            raise pymysql.err.ProgrammingError(1064, "broken")
        return None


@pytest.mark.parametrize("fails", ["reading the queue", "ending a film", "putting one back"])
def test_the_queue_of_exports_outlives_a_fault_of_the_database(tmp_path, monkeypatch, fails):
    queue = Exports(Broken(0), tmp_path, tmp_path)
    monkeypatch.setattr(queue._wake, "wait", lambda seconds: threading.Event().wait(0.001))
    rounds = []

    def broken(*args):
        raise pymysql.err.ProgrammingError(1064, "broken")

    def one(sql, values=()):
        rounds.append(sql)
        if fails == "reading the queue" and len(rounds) < 4:
            broken()
        return {"id": "x", "document": "{}"} if len(rounds) < 4 else None

    monkeypatch.setattr(queue, "_one", one)
    monkeypatch.setattr(queue, "_carry_out", broken)
    if fails != "reading the queue":
        monkeypatch.setattr(queue, "_end", broken)
    if fails == "putting one back":
        queue._database.times = 3
    queue._thread.start()
    until(lambda: len(rounds) > 6, 20)
    assert queue._thread.is_alive()
    queue._stopping = True
    queue._thread.join(5)


def test_nothing_goes_on_beside_the_next_attempt_of_an_export(tmp_path, monkeypatch):
    killed = []

    class Process:
        def __init__(self, **words):
            # It keeps its end of the pipe open, as a process does.
            self.pipe = Connection(os.dup(words["args"][0].fileno()))

        def start(self):
            pass

        def kill(self):
            killed.append("killed")

        def join(self, seconds):
            killed.append("joined")

    context = type("Context", (), {"Pipe": staticmethod(multiprocessing.Pipe), "Process": Process})
    monkeypatch.setattr(exports, "processes", lambda: context)
    queue = Exports(Broken(9), tmp_path, tmp_path)
    order = type("Order", (), {"segments": range(2)})()
    with pytest.raises(pymysql.err.ProgrammingError):
        queue._render("x", "{}", order, tmp_path)
    many = exports._many(order)
    assert killed.count("killed") == killed.count("joined") == many and not queue._processes


def test_an_answer_to_an_earlier_request_is_not_one_to_this(tmp_path):
    process = PainterProcess(tmp_path)
    ours, theirs = multiprocessing.Pipe()
    process._line, process._ready = ours, True
    process.start = lambda: None
    # A process that was slow to start says so late, and then answers what was asked before.
    for said in ((None, "ready"), (7, Painted(b"old", 0.1)), (8, Painted(b"new", 0.1))):
        theirs.send(said)
    process._number = 7
    assert process.paint("film", 1, FILM, REQUEST).jpeg == b"new"


def test_of_those_who_wait_for_a_process_it_is_the_turn_of_the_film_for_which_least_is_painted(tmp_path):
    pool = _Pool(tmp_path, 1)
    pool._all = [PainterProcess(tmp_path)]
    pool._busy["a"] = 1
    order, threads = [], []

    def wait(film):
        process = pool._take(film, 1, 5)
        order.append(film)
        pool._give(process, film)

    for film in ("a", "a", "b"):
        threads.append(threading.Thread(target=wait, args=(film,)))
        threads[-1].start()
        until(lambda: len(pool._waiting) == len(threads))
    pool._give(pool._all[0], "none")
    for thread in threads:
        thread.join(10)
    assert order == ["b", "a", "a"]


def test_what_is_left_of_an_export_grows_while_a_frame_takes_longer_than_those_before():
    assert time_left(10, 0, 100, 125) == 2.5
    assert time_left(10, 0.05, 100, 125) == 2.5
    assert time_left(70, 60, 124, 125) == 60
