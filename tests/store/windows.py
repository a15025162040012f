"""Two windows of the Desk, as they are bundled for the browser, in a process of their own; and the service."""

import json
import subprocess

from idle_comet.core.edits import EditError
from idle_comet.service.routers.projects import EditOrder, HistoryOrder, StaleAnswer, _state, answer_of
from idle_comet.setup.home import ROOT
from idle_comet.store.projects import NothingToUndo, StaleRevision

WEB = ROOT / "web"


class Windows:
    """What happens is said line by line; each answer says what the windows want next and what they show."""

    def __init__(self, folder):
        bundle = folder / "windows.mjs"
        build = [WEB / "node_modules" / ".bin" / "esbuild", "model/windows.ts", "--bundle", "--platform=node"]
        subprocess.run([*build, "--format=esm", f"--outfile={bundle}"], cwd=WEB, check=True, capture_output=True)
        self._process = subprocess.Popen(
            ["node", bundle], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, bufsize=1
        )
        self.wants = []
        self.shown = {}

    def say(self, **what):
        self._process.stdin.write(json.dumps(what) + "\n")
        told = json.loads(self._process.stdout.readline())
        self.wants += told["wants"]
        self.shown = told["windows"]
        return told["said"]

    def end(self):
        self._process.stdin.close()
        self._process.wait(10)


def served(store, project, order, revision):
    """(status, body) of an order, as the service answers it."""
    body = {"revision": revision, **{name: order.get(name) for name in ("saw", "window", "token")}}
    try:
        if order["path"] == "edits":
            read = EditOrder.model_validate(body | {"edit": order["edit"], "gesture": order.get("gesture")})
            outcome = store.edit(project, read.revision, read.edit, read.token, read.gesture, read.sender)
        else:
            read = HistoryOrder.model_validate(body)
            outcome = getattr(store, order["path"])(project, read.revision, read.token, read.sender)
    except StaleRevision as error:
        stale = StaleAnswer(detail=str(error), current=_state(error.stored), conflicts=error.conflicts)
        return 409, json.loads(stale.model_dump_json())
    except NothingToUndo as error:
        return 409, {"detail": str(error)}
    except EditError as error:
        return 422, {"detail": str(error)}
    return 200, json.loads(answer_of(outcome).model_dump_json())
