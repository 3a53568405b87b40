"""What nobody should send, sent to a real server some thousand times: updates, presences, frames; and files to the readers."""

from __future__ import annotations

import json
import random
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

from pycrdt import Doc, create_update_message, read_message, write_message
from websockets.exceptions import ConnectionClosed
from websockets.sync.client import ClientConnection, connect

from mellowspine.server.rooms.awareness import AwarenessState, message
from tests.core.odd_files import odd_docx, odd_text, sources, try_all
from tests.core.test_odd_files import MARKDOWN
from tests.load.reports import prepare
from tests.load.server import Server
from tests.server.test_gate import LOOSE, ODD, WITHIN, edits_of, fault_in, mutated
from tests.server.updates import update

_ODD_VALUES = [5, "x", None, [], {}, True, -1, 2**60, 1.5, "\ud800", [[[]]] * 3, {"client": 1}, "y" * 2000]


class Browser:
    """One connection of somebody who may write."""

    def __init__(self, port: int, report: str, session: str) -> None:
        origin = f"http://127.0.0.1:{port}"
        self._asked = 0
        headers = {"Cookie": f"sessionid={session}"}
        self.socket: ClientConnection = connect(
            f"ws://127.0.0.1:{port}/ws/reports/{report}",
            origin=origin,
            additional_headers=headers,
            max_size=None,
            ping_interval=None,  # type: ignore[arg-type]
        )

    def text(self) -> Doc:
        """The whole text, as a browser that comes in is given it."""
        document: Doc = Doc()
        self.socket.send(b"\x00\x00" + write_message(document.get_state()))
        while True:
            data = self.socket.recv(60)
            if data[:2] == b"\x00\x01" and isinstance(data, bytes):
                document.apply_update(read_message(data[2:]))
                return document

    def send(self, data: bytes) -> str:
        """What became of something: ``taken``; ``asked``, if it hangs on what nobody has; or how the connection ended."""
        try:
            self.socket.send(data)
            # An answer comes to this at once, if the connection has not been ended.
            self.socket.send(create_update_message(b"\x00\x00"))
            while True:
                said = self.socket.recv(60)
                if isinstance(said, str) and json.loads(said)["type"] == "stored":
                    return "taken"
                if said[:2] == b"\x00\x00":
                    self._asked += 1
                    if self._asked > 1:  # every browser is asked once, when it comes in
                        return "asked"
        except ConnectionClosed as closed:
            return f"refused with {closed.rcvd.code}" if closed.rcvd else "cut off"


def _presence(chance: random.Random) -> bytes:
    def odd(depth: int = 0) -> object:
        if depth < 3 and chance.random() < 0.5:
            return {
                key: odd(depth + 1)
                for key in chance.sample(["anchor", "head", "type", "item", "tname", "assoc", "client", "clock"], 3)
            }
        return chance.choice(_ODD_VALUES)

    state = {"user": odd(), "cursor": odd(), "heading": odd(), "more": odd()}
    return message([AwarenessState(chance.choice([1, 7, 2**52, 2**60]), chance.randrange(2**53), state)])


def odd(times: int, seed: int, data: Path) -> list[str]:
    """Sends odd things of each kind to a server with this data; prints what became of them, and returns what went wrong."""
    chance = random.Random(seed)
    report, (session,) = prepare(1, data)
    server = Server(data)
    faults: list[str] = []
    try:
        whole = Browser(server.port, report, session).text()
        well = [*edits_of(whole), *(update(*some) for some in (LOOSE | WITHIN).values())]
        kinds: dict[str, Callable[[], bytes]] = {
            "odd updates": lambda: create_update_message(chance.choice([*ODD.values()])),
            "updates with bytes changed": lambda: create_update_message(mutated(chance, chance.choice(well))),
            "presences": lambda: _presence(chance),
            "frames": lambda: chance.randbytes(chance.randint(1, 60)),
        }
        for kind, make in kinds.items():
            found: Counter[str] = Counter()
            slowest, browser = 0.0, Browser(server.port, report, session)
            for number in range(times):
                began = time.perf_counter()
                what = browser.send(make())
                slowest = max(slowest, time.perf_counter() - began)
                found[what] += 1
                if what != "taken":
                    browser.socket.close()
                    browser = Browser(server.port, report, session)
                if number % 200 == 199 and (fault := fault_in(Browser(server.port, report, session).text())):
                    faults.append(f"After {kind} the text holds what no text may: {fault}")
                    break
            print(f"  {kind}: {dict(found)}, slowest {1000 * slowest:.0f} ms", flush=True)
            if server.process.poll() is not None:
                faults.append(f"The server ended over {kind}.")
                break
    finally:
        server.kill()
    log = (data / "log").read_text()
    if uncaught := log.count("Traceback"):
        faults.append(f"{uncaught} uncaught exceptions in the server's log, {data / 'log'}")
    sound = sources()
    files = {
        ".docx": lambda: odd_docx(chance, chance.choice([sound[0], chance.choice(sound)])),
        ".md": lambda: odd_text(chance, MARKDOWN),
        ".txt": lambda: odd_text(chance, MARKDOWN),
    }
    for ending, change in files.items():
        try:
            print(f"  {ending} files: {dict(try_all((f'a{ending}', change()) for _ in range(times)))}", flush=True)
        except Exception as error:
            faults.append(f"A reader of {ending} raised {error!r}")
    return faults
