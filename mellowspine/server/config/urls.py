"""Addresses: the API under /api/, everything else is the web application."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from mellowspine.server.api import api


@ensure_csrf_cookie
def web_application(request: HttpRequest) -> HttpResponse:
    """The one page of the web application; it reads the rest of the address itself."""
    page = settings.WEB_BUILD / "index.html"
    if not page.exists():
        return HttpResponse("The web application is not built yet. Run: make install", status=503)
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|static/|ws/).*$", web_application)]
