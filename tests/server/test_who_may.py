"""Who may come in, and for how long: passwords, sessions, members, and what a self-hoster sets."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from unittest import mock

from asgiref.sync import sync_to_async
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.core.cache import cache
from django.test import Client, override_settings

from mellowspine.server.accounts import attempts
from mellowspine.server.rooms import registry
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.presence import NOT_YOURS, SIGNED_OUT
from mellowspine.server.shelf.models import Membership

from .base import ServerCase
from .test_connections import Browser, steps

PROJECT = Path(__file__).parents[2]


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])  # soon done
class Passwords(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        cache.clear()
        self.addCleanup(cache.clear)
        self.owner.set_password("tide-gate-4711")
        self.owner.save()

    def sign_in(self, name: str, password: str, address: str = "192.0.2.1") -> int:
        given = {"name": name, "password": password}
        return Client(REMOTE_ADDR=address).post("/api/session", given, content_type="application/json").status_code

    def test_after_ten_wrong_passwords_no_further_one_is_tried_for_five_minutes(self) -> None:
        self.assertEqual([self.sign_in("own", f"wrong {n}") for n in range(12)], [403] * 10 + [429] * 2)
        self.assertEqual(self.sign_in("OWN", "tide-gate-4711"), 429)
        self.assertEqual(self.sign_in("own", "tide-gate-4711", "192.0.2.2"), 200)
        cache.clear()  # as after five minutes
        self.assertEqual(self.sign_in("own", "tide-gate-4711"), 200)

    def test_right_passwords_are_not_counted(self) -> None:
        self.assertEqual([self.sign_in("own", "tide-gate-4711") for _ in range(12)], [200] * 12)

    def test_many_names_from_one_address_and_one_name_from_many(self) -> None:
        with mock.patch.object(attempts, "MOST", 15):
            self.assertEqual([self.sign_in(f"name {n}", "x") for n in range(16)], [403] * 15 + [429])
            cache.clear()
            self.assertEqual([self.sign_in("own", "x", f"192.0.2.{n}") for n in range(16)], [403] * 15 + [429])

    def test_it_is_forgotten_after_a_while(self) -> None:
        with mock.patch.object(attempts, "WITHIN", 0):
            self.assertEqual([self.sign_in("own", "x") for _ in range(12)], [403] * 12)


class Connected(ServerCase):
    """Between two looks at who may be here, which are some seconds apart, nobody gets or writes what they may not."""

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()
        beat = mock.patch.object(registry, "BEAT", 3600.0)
        beat.start()
        self.addCleanup(beat.stop)

    async def browser(self, user: User) -> Browser:
        browser = await sync_to_async(Browser)(self.report.key, user)
        await browser.connect()
        await browser.fetch()
        return browser

    async def writes_nothing_and_is_told(self, browser: Browser, code: int) -> None:
        await browser.write("Too late: ")
        self.assertEqual(await browser.closed_with(), code)
        self.assertEqual(await sync_to_async(Update.objects.count)(), 1)

    def test_nothing_is_stored_of_whoever_has_signed_out_or_been_put_out(self) -> None:
        person = User.objects.filter(pk=self.editor.pk)
        cases: dict[str, tuple[Callable[[], object], int]] = {
            "signed out elsewhere in the same browser": (lambda: Session.objects.all().delete(), SIGNED_OUT),
            "has another password": (lambda: person.update(password="another"), SIGNED_OUT),
            "is deactivated": (lambda: person.update(is_active=False), NOT_YOURS),
        }

        @steps
        async def story() -> None:
            for name, (change, code) in cases.items():
                with self.subTest(name):
                    browser = await self.browser(await sync_to_async(person.get)())
                    await sync_to_async(change)()
                    await self.writes_nothing_and_is_told(browser, code)

        story()

    def test_whoever_is_a_member_no_longer_is_not_given_the_text(self) -> None:
        @steps
        async def story() -> None:
            browser = await self.browser(self.reader)
            await sync_to_async(Membership.objects.filter(person=self.reader).delete)()
            await browser.ask()
            while (event := await browser.socket.receive_output(10))["type"] != "websocket.close":
                self.assertFalse(event.get("bytes", b"").startswith(b"\x00\x01"), "the text was given")
            self.assertEqual(event["code"], NOT_YOURS)

        story()

    def test_whoever_signs_in_as_another_in_the_same_browser(self) -> None:
        client = Client()
        client.force_login(self.owner)
        self.editor.set_password("weir-and-sluice")
        self.editor.save()

        @steps
        async def story() -> None:
            browser = Browser(self.report.key, None)
            cookie = f"sessionid={client.cookies['sessionid'].value}".encode()
            browser.socket.scope["headers"].append((b"cookie", cookie))
            await browser.connect()
            await browser.fetch()
            given = {"name": "edit", "password": "weir-and-sluice"}
            await sync_to_async(client.post)("/api/session", given, content_type="application/json")
            self.assertEqual(await browser.closed_with(), SIGNED_OUT)

        story()


class Origins(ServerCase):
    """RFC 6454: an origin is scheme, host and port."""

    def test_a_page_of_another_origin_cannot_connect(self) -> None:
        report = self.make()

        async def comes_in(host: bytes, origin: bytes | None, scheme: str = "ws") -> bool:
            browser = await sync_to_async(Browser)(report.key, self.owner)
            given = [(b"host", host), *([(b"origin", origin)] if origin else [])]
            browser.socket.scope |= {"headers": [*given, browser.socket.scope["headers"][-1]], "scheme": scheme}
            await browser.connect()
            found = (await browser.socket.receive_output(10))["type"] == "websocket.accept"
            await browser.leave()
            return found

        @steps
        async def story() -> None:
            for host, origin, scheme, expected in (
                (b"localhost", b"http://localhost", "ws", True),
                (b"localhost:8000", b"http://localhost:8000", "ws", True),
                (b"localhost", b"https://localhost", "wss", True),
                (b"localhost", b"https://localhost", "ws", False),
                (b"localhost", b"http://localhost", "wss", False),
                (b"localhost:8000", b"http://localhost:9000", "ws", False),
                (b"localhost:8000", b"http://localhost", "ws", False),
                (b"localhost", b"http://elsewhere.example", "ws", False),
                (b"elsewhere.example", b"http://elsewhere.example", "ws", False),
                (b"localhost", b"null", "ws", False),
                (b"localhost", None, "ws", False),
            ):
                self.assertEqual(await comes_in(host, origin, scheme), expected, (host, origin, scheme))

        story()


class Behind(ServerCase):
    """What a self-hoster gets by the README, in a process of its own."""

    def manage(self, *arguments: str, **environment: str) -> tuple[str, Path]:
        data = Path(self.enterContext(tempfile.TemporaryDirectory()))
        found = subprocess.run(
            [sys.executable, "manage.py", *arguments], cwd=PROJECT, capture_output=True, text=True, check=True,
            env={**os.environ, "MELLOW_DATA": str(data), **environment},
        )  # fmt: skip
        return found.stdout + found.stderr, data

    def test_behind_tls_two_settings_are_enough(self) -> None:
        said, _ = self.manage("check", "--deploy", MELLOW_HOSTS="reports.example.org", MELLOW_HTTPS="1")
        self.assertIn("no issues", said)

    def test_nobody_else_on_the_machine_can_read_what_is_kept(self) -> None:
        _, data = self.manage("migrate", "--verbosity", "0")
        kept = [file for file in data.iterdir() if file.is_file()]
        self.assertIn("mellowspine.sqlite3", [file.name for file in kept])
        self.assertEqual({stat.S_IMODE(file.stat().st_mode) for file in kept}, {0o600})


class HalfCharacters(ServerCase):
    """RFC 8259, 8.2: what JSON can say and no text can hold."""

    def test_they_are_refused_with_a_sentence(self) -> None:
        report = self.make()
        self.client.force_login(self.owner)
        for data in (r'{"title": "Half \ud800 of it"}', '{"title": NaN}', '{"title": ', "\ufeff", "[" * 100_000):
            found = self.client.generic("PATCH", f"/api/reports/{report.key}", data, "application/json")
            self.assertEqual(found.status_code, 400, data[:20])
            self.assertTrue(found.json()["message"])
        self.owner.is_staff = True
        self.owner.save()
        half = r'{"name": "half\udc00", "full_name": "H", "password": "weir-and-sluice"}'
        self.assertEqual(self.client.generic("POST", "/api/people", half, "application/json").status_code, 400)
