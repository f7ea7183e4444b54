"""kill -9 of a whole window at a random moment of random use: what it had done is in its safe copy, in the log and in
the files, as of a moment ago at most.

The window is a process of its own that says every state of its document, and every act that its log has taken.
"""

import hashlib
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np

from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.store import boxfile, safecopy
from ochre_stone.desktop.session import keeping, settings
from ochre_stone.logbook.book import log_file
from ochre_stone.logbook.openlog import OpenLog
from ochre_stone.logbook.waiting import LogDraft
from tests.support.torture.logs import compared
from tests.support.torture.tally import Tally

_SOON_MS, _OLD_S = 700, 5.0
"""A safe copy is written after this, here; and how old it may be when the window is killed, on a busy machine."""
_LONGEST_S = 9.0
_HANGS_S = 120.0
_PLACES = ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME", "TMPDIR")


def run(tally: Tally, count: int) -> None:
    """Go on until ``count`` windows are killed."""
    while tally.done < count:
        number = tally.done
        with tempfile.TemporaryDirectory(prefix="ochre-windows-") as home:
            began = time.monotonic()
            said, killed = _killed(home, tally.seed, number)
            with mock.patch.dict(os.environ, dict.fromkeys(_PLACES, home)):
                wrong, met = _wrong(said, killed)
            for what, n in met.items():
                tally.counts[what] = tally.counts.get(what, 0) + n
            words = f"window {number} of seed {tally.seed}: {wrong}"
            tally.add("other" if wrong else "killed", time.monotonic() - began, words)
            tally.save()


def _killed(home: str, seed: int, number: int) -> tuple[list[dict[str, Any]], float]:
    """What a window said until it was killed, and when that was."""
    rng = np.random.default_rng((seed, number))
    command = [sys.executable, "-m", "tests.support.torture.windows", str(seed), str(number)]
    env = {**os.environ, **dict.fromkeys(_PLACES, home), "QT_QPA_PLATFORM": "offscreen"}
    said: list[dict[str, Any]] = []
    ready = threading.Event()
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=env, text=True) as child:
        assert child.stdout is not None
        out = child.stdout

        def listen() -> None:
            for line in out:
                if line.endswith("\n"):  # the last may be cut
                    said.append(json.loads(line))
                ready.set()
            ready.set()

        listener = threading.Thread(target=listen)
        listener.start()
        ready.wait(_HANGS_S)
        time.sleep(float(rng.uniform(0, _LONGEST_S)))
        killed = time.time()
        child.send_signal(signal.SIGKILL)
        listener.join()
    return said, killed


def _wrong(said: list[dict[str, Any]], killed: float) -> tuple[str, dict[str, int]]:
    """What is not as promised, "" for nothing; and how much was looked at."""
    states = [s for s in said if "state" in s]
    told: dict[str, str | None] = {}
    for s in said:
        told |= s.get("log", {})
    met = {"acts": len(states), "piles of the log": len(told)}
    errors = [str(s["error"]) for s in said if "error" in s]
    if errors or not states:
        return errors[0] if errors else "the window said nothing", met
    late = [s for k, s in enumerate(states) if k + 1 == len(states) or states[k + 1]["at"] > killed - _OLD_S]
    found = safecopy.ownerless()
    try:
        brought = [safecopy.bring_back(left).project.document for left in found]
        boxfile.load_box()
        settings.load_settings()
    except OchreError as error:
        return str(error), met
    met["safe copies"] = len(brought)
    if any(_print(d) not in {s["state"] for s in late} for d in brought):
        return f"the safe copy is none of the last {len(late)} states", met
    if not brought and not any(s["clean"] for s in late):
        return "no safe copy", met
    log = OpenLog(log_file())
    log.flush()
    left = len(log.waiting.acts)
    log.close()
    wait = f"{left} acts of the log wait" if left else ""
    return wait or compared(told, [log_file()] if told else [], killed=True), met


def _print(document: Document) -> str:
    return hashlib.sha256(document.model_dump_json().encode()).hexdigest()[:16]


def _window(seed: int, number: int) -> Iterator[dict[str, Any]]:
    """A window at random use without end; what it says."""
    from tests.support.torture.actions import User, answered

    with tempfile.TemporaryDirectory() as folder:
        user = User(Tally("windows", seed), Path(folder))
        user.rng = np.random.default_rng((seed, number))
        told: dict[str, str | None] = {}
        real = OpenLog.change

        def change(log: OpenLog, work: Any) -> Any:
            act: dict[str, str | None] = {}

            def watched(draft: LogDraft) -> Any:
                answer = work(draft)
                act.clear()
                act.update(dict.fromkeys(draft.act.removed), **{e.uid: e.line for e in draft.act.put})
                return answer

            answer = real(log, watched)
            told.update(act)  # it is in the log, or waits in a file
            return answer

        with (
            answered(user),
            mock.patch.object(OpenLog, "change", change),
            mock.patch.object(keeping, "_AFTER_MS", _SOON_MS),
            mock.patch.object(sys, "excepthook", lambda kind, error, trace: user.errors.append(repr(error))),
        ):
            user.begin()
            first = user.window.studio.document
            while True:
                studio = user.window.studio
                unsaved = not studio.undo.isClean() or studio.ahead is not None
                empty = (studio.picture is None and not studio.document.notes) or studio.document == first
                yield {"state": _print(studio.document), "at": time.time(), "clean": empty or not unsaved}
                if told:
                    gone = dict(told)
                    yield {"log": gone}
                    for uid in gone:
                        if told.get(uid) == gone[uid]:
                            told.pop(uid, None)
                if user.errors:
                    yield {"error": user.errors.pop(0)}
                if user.rng.random() < 0.15:
                    _mix(user)
                else:
                    user.act()
                user.turn()


def _mix(user: Any) -> None:
    """A pile is begun, or done."""
    session = user.window.session
    piles = [*session.piles.names()]
    if piles:
        log, pile = session.log, piles[int(user.rng.integers(len(piles)))]
        (log.finish if log.is_begun(pile) else log.begin)(pile)


def main() -> None:
    """A window in a child: SEED NUMBER; a line of JSON for all that it says."""
    for said in _window(int(sys.argv[1]), int(sys.argv[2])):
        print(json.dumps(said), flush=True)


if __name__ == "__main__":
    main()
