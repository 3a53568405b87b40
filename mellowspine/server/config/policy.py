"""What a page of this application may load: its own files, nothing else."""

from __future__ import annotations

from collections.abc import Awaitable, Callable

from asgiref.sync import iscoroutinefunction
from django.http import HttpRequest, HttpResponse
from django.utils.decorators import sync_and_async_middleware

_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "connect-src 'self' ws: wss:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


@sync_and_async_middleware
def content_policy(respond: Callable[[HttpRequest], HttpResponse | Awaitable[HttpResponse]]) -> object:
    """Adds the Content-Security-Policy header (CSP level 3) to every response."""
    if iscoroutinefunction(respond):

        async def later(request: HttpRequest) -> HttpResponse:
            response: HttpResponse = await respond(request)  # type: ignore[misc]
            response["Content-Security-Policy"] = _POLICY
            return response

        return later

    def at_once(request: HttpRequest) -> HttpResponse:
        response = respond(request)
        response["Content-Security-Policy"] = _POLICY  # type: ignore[index]
        return response  # type: ignore[return-value]

    return at_once
