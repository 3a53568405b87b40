"""WebSockets from pages of this application alone."""

from __future__ import annotations

from typing import Any

from channels.security.websocket import WebsocketDenier
from django.conf import settings
from django.http.request import split_domain_port, validate_host


class SameOrigin:
    """Refuses connections from pages of another origin (RFC 6454): scheme, host and port are those that were asked.

    Browsers send cookies with WebSockets whatever page opens them, and tell its origin.
    """

    def __init__(self, application: Any) -> None:
        self._application = application

    async def __call__(self, scope: Any, receive: Any, send: Any) -> Any:
        headers = {name.decode("latin1"): value.decode("latin1") for name, value in scope["headers"]}
        host = headers.get("host", "")
        scheme = "https" if scope.get("scheme") in ("wss", "https") else "http"
        known = validate_host(split_domain_port(host)[0], settings.ALLOWED_HOSTS)
        if known and headers.get("origin", "").lower() == f"{scheme}://{host}".lower():
            return await self._application(scope, receive, send)
        return await WebsocketDenier()(scope, receive, send)
