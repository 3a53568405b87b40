"""A real server with data of its own that can be killed, the line to it that can be cut, and the authors at its end."""

from __future__ import annotations

import asyncio
import json
import os
import random
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any

PROJECT = Path(__file__).parents[2]
AUTHORS = PROJECT / "web/node_modules/.load/authors.js"


def free_port() -> int:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


class Server:
    """uvicorn over a folder of data; ``kill`` takes it down as a power cut would take the process."""

    def __init__(self, data: Path) -> None:
        self.data, self.port = data, free_port()
        self.log = (data / "log").open("a")
        self.start()

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "uvicorn", "mellowspine.server.config.asgi:application", "--port", str(self.port),
             "--ws-max-size", "8388672", "--log-level", "warning", "--lifespan", "off",
             "--ws-per-message-deflate", "false"],
            cwd=PROJECT, env={**os.environ, "MELLOW_DATA": str(self.data)}, stdout=self.log, stderr=self.log,
        )  # fmt: skip
        for _ in range(300):
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/session", timeout=1)
                return
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("The server did not start:\n" + (self.data / "log").read_text()[-3000:])

    def kill(self, how: int = signal.SIGKILL) -> None:
        self.process.send_signal(how)
        self.process.wait(30)

    def memory(self) -> float:
        """Resident memory in megabytes."""
        for line in Path(f"/proc/{self.process.pid}/status").read_text().splitlines():
            if line.startswith("VmRSS:"):
                return int(line.split()[1]) / 1000
        return float("nan")

    def handles(self) -> int:
        """Files, connections and the like that it has open."""
        return len(os.listdir(f"/proc/{self.process.pid}/fd"))

    def threads(self) -> int:
        return len(os.listdir(f"/proc/{self.process.pid}/task"))

    def processor(self) -> float:
        """Seconds of processor time used so far."""
        fields = Path(f"/proc/{self.process.pid}/stat").read_text().rsplit(")", 1)[1].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


class Line:
    """The network between authors and server: a port that passes bytes on, until a connection is cut or goes silent."""

    def __init__(self, server: Server) -> None:
        self.port, self._server = free_port(), server
        self._open: list[tuple[asyncio.StreamWriter, asyncio.StreamWriter, asyncio.Event]] = []
        self._loop = asyncio.new_event_loop()
        threading.Thread(target=self._loop.run_forever, daemon=True).start()
        asyncio.run_coroutine_threadsafe(asyncio.start_server(self._take, "127.0.0.1", self.port), self._loop).result()

    async def _take(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            from_server, to_server = await asyncio.open_connection("127.0.0.1", self._server.port)
        except OSError:
            writer.close()
            return
        passes = asyncio.Event()
        passes.set()
        one = (writer, to_server, passes)
        self._open.append(one)

        async def pump(source: asyncio.StreamReader, goal: asyncio.StreamWriter) -> None:
            try:
                while data := await source.read(65536):
                    await passes.wait()
                    goal.write(data)
                    await goal.drain()
            except OSError:
                pass
            finally:
                goal.close()

        await asyncio.gather(pump(reader, to_server), pump(from_server, writer))
        self._open.remove(one)

    def _some(self, chance: random.Random) -> tuple[asyncio.StreamWriter, asyncio.StreamWriter, asyncio.Event] | None:
        return chance.choice(self._open) if self._open else None

    def cut(self, chance: random.Random) -> None:
        """Ends one connection at once; what is on its way in it is gone."""
        if one := self._some(chance):
            for end in one[:2]:
                self._loop.call_soon_threadsafe(end.transport.abort)

    def silence(self, chance: random.Random) -> None:
        """Lets one connection look open while nothing passes any more."""
        if one := self._some(chance):
            self._loop.call_soon_threadsafe(one[2].clear)


class Authors:
    """The simulated authors, in a process of their own: see ``web/tests/load/authors.ts``."""

    def __init__(self, **orders: Any) -> None:
        subprocess.run(
            ["npx", "vite", "build", "--ssr", "tests/load/authors.ts", "--outDir", str(AUTHORS.parent), "--logLevel", "error"],
            cwd=PROJECT / "web", check=True, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        self.process = subprocess.Popen(
            ["node", "--experimental-websocket", "--no-warnings", str(AUTHORS)],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        self._say(json.dumps(orders))

    def _say(self, line: str) -> None:
        assert self.process.stdin
        self.process.stdin.write(line + "\n")
        self.process.stdin.flush()

    def ask(self, command: str) -> dict[str, Any]:
        self._say(command)
        assert self.process.stdout
        return dict(json.loads(self.process.stdout.readline()))

    def close(self) -> None:
        self.process.kill()
        self.process.wait()


def folder() -> Path:
    """A new folder for data, also where Django of this process looks for it."""
    data = Path(tempfile.mkdtemp(prefix="mellow-load-"))
    os.environ["MELLOW_DATA"] = str(data)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellowspine.server.config.settings")
    return data
