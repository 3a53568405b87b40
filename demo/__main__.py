"""``python -m demo``: sets up the demonstration and serves it on this machine."""

from __future__ import annotations

import argparse
import os
import sys

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellowspine.server.config.settings")
os.environ["MELLOW_DEMONSTRATION"] = "1"


def main() -> None:
    parser = argparse.ArgumentParser(prog="demo", description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--load-only", action="store_true", help="fill the database and stop")
    given = parser.parse_args()

    import django
    import uvicorn
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)

    from demo.load import load

    load(lambda title: print(f"  {title}", flush=True))
    if given.load_only:
        return
    print(f"\n  Mellow Spine is at http://127.0.0.1:{given.port}   (Ctrl+C ends it)\n", flush=True)
    uvicorn.run(
        "mellowspine.server.config.asgi:application",
        host="127.0.0.1",
        port=given.port,
        ws_max_size=8 * 1024 * 1024 + 64,
        ws_per_message_deflate=False,
        proxy_headers=False,  # nobody stands before it: what says so is not to be believed
        log_level="warning",
        lifespan="off",
    )


if __name__ == "__main__":
    sys.exit(main())
