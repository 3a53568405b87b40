"""Bodies of requests, as the server is sent them: what is too much is not read, and from nobody who has not signed in."""

from __future__ import annotations

import json
from typing import Any

from asgiref.sync import async_to_sync
from asgiref.testing import ApplicationCommunicator
from django.test import Client

from mellowspine.server.config.asgi import application
from mellowspine.server.config.bodies import LARGEST, SMALL

from .base import ServerCase


class Bodies(ServerCase):
    def ask(self, headers: dict[str, str], parts: list[bytes], path: str = "/api/imports") -> tuple[int, str, int]:
        """The status, what is said, and how many parts of the body were read."""
        return async_to_sync(self._ask)(headers, parts, path)

    async def _ask(self, headers: dict[str, str], parts: list[bytes], path: str) -> tuple[int, str, int]:
        given = [(b"host", b"localhost"), *((name.encode(), value.encode()) for name, value in headers.items())]
        scope: dict[str, Any] = {
            "type": "http", "method": "POST", "path": path, "raw_path": path.encode(), "query_string": b"", "headers": given,
            "scheme": "http", "server": ("localhost", 80), "client": ("127.0.0.1", 1), "http_version": "1.1", "root_path": "",
        }  # fmt: skip
        asked = ApplicationCommunicator(application, scope)
        for index, part in enumerate(parts):
            await asked.send_input({"type": "http.request", "body": part, "more_body": index + 1 < len(parts)})
        start = await asked.receive_output(30)
        body = b""
        while True:
            event = await asked.receive_output(30)
            body += event.get("body", b"")
            if not event.get("more_body"):
                break
        left = asked.input_queue.qsize()
        return start["status"], json.loads(body or b"{}").get("message", ""), len(parts) - left

    def cookie(self) -> str:
        client = Client()
        client.force_login(self.owner)
        return f"sessionid={client.cookies['sessionid'].value}"

    def test_nothing_large_is_read_from_whoever_has_not_signed_in(self) -> None:
        for headers in (
            {"content-length": str(50_000_000)},
            {"content-length": str(50_000_000), "cookie": "sessionid=nobody"},
            {"transfer-encoding": "chunked"},
        ):
            self.assertEqual(self.ask(headers, [b"x" * 1000] * 5), (401, "Sign in first.", 0))

    def test_what_is_larger_than_any_may_be_is_not_read(self) -> None:
        status, said, read = self.ask({"content-length": str(LARGEST + 1), "cookie": self.cookie()}, [b"x"] * 5)
        self.assertEqual((status, read), (413, 0))
        self.assertIn("100 MB", said)

    def test_more_than_was_said_is_not_taken(self) -> None:
        status, said, read = self.ask(
            {"content-length": "10", "content-type": "application/json"}, [b"x" * SMALL] * 9, "/api/session"
        )
        self.assertEqual((status, read), (413, 2))
        self.assertIn("send it once more", said)

    def test_who_has_signed_in_sends_files(self) -> None:
        body = (
            b'--b\r\nContent-Disposition: form-data; name="file"; filename="a.odd"\r\n\r\n'
            + b"x" * 100_000
            + b"\r\n--b--\r\n"
        )
        headers = {
            "content-length": str(len(body)),
            "content-type": "multipart/form-data; boundary=b",
            "cookie": self.cookie(),
        }
        status, _, read = self.ask(headers, [body])
        self.assertEqual(read, 1)
        self.assertEqual(status, 403)  # it was read, and lacks the token that forms of ours have

    def test_answers_are_kept_by_nobody_on_the_way(self) -> None:
        self.client.force_login(self.owner)
        for path in ("session", "reports", "reports/none"):
            self.assertEqual(self.client.get(f"/api/{path}")["Cache-Control"], "no-store")
        self.assertEqual(Client().get("/api/reports")["Cache-Control"], "no-store")
