"""The ASGI application: HTTP to Django, WebSockets to the rooms."""

from __future__ import annotations

import os
import warnings

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellowspine.server.config.settings")

from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from django.core.asgi import get_asgi_application
from django.urls import path

# WhiteNoise hands out files through a synchronous iterator; Django reads it in a thread, which is what is wanted.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")

http = get_asgi_application()

from mellowspine.server.config.bodies import Bodies  # noqa: E402
from mellowspine.server.config.origin import SameOrigin  # noqa: E402
from mellowspine.server.rooms.consumer import ReportConsumer  # noqa: E402  (needs the apps to be loaded)

application = ProtocolTypeRouter(
    {
        "http": Bodies(http),
        "websocket": SameOrigin(
            # The types of Django's paths know of views alone.
            AuthMiddlewareStack(URLRouter([path("ws/reports/<str:key>", ReportConsumer.as_asgi())]))  # type: ignore[arg-type, list-item]
        ),
    }
)
