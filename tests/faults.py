"""One step of some work fails: to the database, to the disk or to a process. All steps take their turn."""

import errno
import multiprocessing
import os
import sys
from contextlib import contextmanager
from itertools import count
from multiprocessing.process import BaseProcess
from pathlib import Path

import pymysql

_WRITES = os.O_WRONLY | os.O_RDWR | os.O_CREAT
_watching = None
"""The faults that are told of what Python asks of the disk, or None. The interpreter's audit hooks can't be removed."""


def _asked(event, args):
    faults = _watching
    if faults is None:
        return
    if event == "open":
        path, mode, flags = args
        if isinstance(path, str) and (any(each in mode for each in "wax+") if mode else flags & _WRITES):
            faults.disk(event, path)
    elif event in ("os.rename", "os.mkdir", "os.link", "os.remove") and isinstance(args[0], (str, Path)):
        faults.disk(event, *(each for each in args[:2] if isinstance(each, (str, Path))))
    elif event == "subprocess.Popen":
        faults.count(event, lambda: None, OSError(errno.EAGAIN, os.strerror(errno.EAGAIN)))


sys.addaudithook(_asked)


class Faults:
    """Counts steps, and has one fail: before it is done, or after (to the database only), when its answer is lost."""

    def __init__(self, connect=None, folder=None):
        """`connect` makes connections to the database; what is written in `folder` is counted inside `watched`."""
        self._connect, self._folder = connect, folder and str(folder)
        self.at, self.after, self.names = None, False, []
        self.answered = set()
        # Processes that are made of this one count with it.
        self._steps = multiprocessing.get_context("fork").Value("i", 0)

    @property
    def steps(self):
        return self._steps.value

    @steps.setter
    def steps(self, steps):
        self._steps.value = steps

    def _next(self, name):
        with self._steps.get_lock():
            self._steps.value += 1
            self.names.append(name)
            return self._steps.value

    def count(self, name, work, error):
        step = self._next(name)
        if isinstance(error, pymysql.err.Error):
            self.answered.add(step)
        here = step == self.at
        if here and not self.after:
            raise error
        done = work()
        if here:
            raise error
        return done

    def disk(self, name, *paths):
        paths = [os.path.abspath(each) for each in paths]
        if not any(each.startswith(self._folder) for each in paths):
            return
        if self._next((name, *(each[len(self._folder) :] for each in paths))) == self.at:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC), paths[0])

    @contextmanager
    def watched(self, monkeypatch):
        """What Python writes, syncs and renames in the folder is counted, and the processes it starts."""
        global _watching
        sync, start = os.fsync, BaseProcess.start

        def synced(number):
            self.disk("os.fsync", os.readlink(f"/proc/self/fd/{number}"))
            sync(number)

        def started(process):
            self.count("process", lambda: start(process), OSError(errno.EAGAIN, os.strerror(errno.EAGAIN)))

        with monkeypatch.context() as patched:
            patched.setattr(os, "fsync", synced)
            patched.setattr(BaseProcess, "start", started)
            _watching = self
            try:
                yield
            finally:
                _watching = None

    def each(self, work, steps=None):
        """Do some work with a fault at each of its steps in turn, or at some; gives how many it has. What the database
        does fails before it is done and after. `work` is told a name, and leaves `steps` and `names` as they came out.
        """
        for at in steps or count(1):
            for self.after in (False, True):
                self.steps, self.at, self.names, self.answered = 0, at, [], set()
                work(f"{at}-{'after' if self.after else 'before'}")
                if at not in self.answered:
                    break
            if self.steps < at:
                return at - 1

    def __call__(self, **more):
        connection = self._connect(**more)
        faults = self

        def count(name, work):
            lost = pymysql.err.OperationalError(2013, "Lost connection to server during query")
            return faults.count(name, work, lost)

        class Cursor(more.get("cursorclass", pymysql.cursors.Cursor)):
            def execute(self, query, args=None):
                return count(query, lambda: super(Cursor, self).execute(query, args))

            def executemany(self, query, args):
                return count(query, lambda: super(Cursor, self).executemany(query, args))

        connection.cursorclass = Cursor
        commit = connection.commit
        connection.commit = lambda: count("commit", commit)
        return connection
