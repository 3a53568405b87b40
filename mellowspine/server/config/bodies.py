"""Bodies of requests: none is read that is larger than any may be, nor a large one from somebody who has not signed in."""

from __future__ import annotations

import json
from http.cookies import CookieError, SimpleCookie
from typing import Any

from channels.db import database_sync_to_async
from django.conf import settings
from django.contrib.sessions.models import Session
from django.utils import timezone

from mellowspine.core.formats import LARGEST_FILE

LARGEST = LARGEST_FILE + 1024 * 1024
"""Bytes of the largest body: a file to bring in, and what is sent around it."""
SMALL = 64 * 1024
"""Bytes that anybody may send, such as a name and a password."""


class TooMuch(Exception):
    """More came than may."""


class Bodies:
    """Stands before Django, which puts a body on disk before it asks who sends it."""

    def __init__(self, application: Any) -> None:
        self._application = application

    async def __call__(self, scope: Any, receive: Any, send: Any) -> Any:
        headers = {name.decode("latin1").lower(): value.decode("latin1") for name, value in scope["headers"]}
        given = headers.get("content-length", "")
        said = int(given) if given.isdecimal() and len(given) < 16 else 0
        if said > LARGEST:
            return await _refuse(
                send, 413, "This is larger than 100 MB; make it smaller, or bring it in section by section."
            )
        most = LARGEST
        if said > SMALL or "transfer-encoding" in headers:
            if not await _has_session(headers.get("cookie", "")):
                return await _refuse(send, 401, "Sign in first.")
        else:
            most = SMALL
        come = 0

        async def bounded() -> Any:
            nonlocal come
            message = await receive()
            come += len(message.get("body", b""))
            if come > most:
                raise TooMuch
            return message

        try:
            return await self._application(scope, bounded, send)
        except TooMuch:
            return await _refuse(send, 413, "This is larger than was said; send it once more.")


async def _has_session(cookies: str) -> bool:
    try:
        found = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
    except CookieError:
        return False
    if found is None:
        return False
    there = Session.objects.filter(pk=found.value[:40], expire_date__gt=timezone.now())
    return bool(await database_sync_to_async(there.exists)())


async def _refuse(send: Any, status: int, message: str) -> None:
    body = json.dumps({"message": message}).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
    ]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
