"""The ASGI application: HTTP to Django, WebSockets to the rooms."""

from __future__ import annotations

import gc
import os
import warnings

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellowspine.server.config.settings")

from channels.auth import AuthMiddlewareStack
from channels.routing import ProtocolTypeRouter, URLRouter
from django.core.asgi import get_asgi_application
from django.urls import path

from .settings import COLLECTED_AFTER

# An edit that moves all that is marked makes some ten thousand small objects, most of which stay until the next such edit: looking
# for garbage among them after every 700 takes a tenth of its time; after very many, the one look would be felt.
gc.set_threshold(COLLECTED_AFTER)

# WhiteNoise hands out files through a synchronous iterator; Django reads it in a thread, which is what is wanted.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")

http = get_asgi_application()

from mellowspine.server.config.bodies import Bodies  # noqa: E402
from mellowspine.server.config.origin import SameOrigin  # noqa: E402
from mellowspine.server.reading import make_ready  # noqa: E402
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

make_ready()
