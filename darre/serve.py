"""`python -m darre.serve`: bring the database up to date and serve, in one process so that starting is quick."""

import argparse
import os
import time
from typing import Any

import django
from django.core.management import call_command
from gunicorn.app.base import BaseApplication


class Server(BaseApplication):
    """Gunicorn with the application loaded once, before its worker is forked."""

    def __init__(self, **options: Any) -> None:
        self.options = options
        super().__init__()

    def load_config(self) -> None:
        for name, value in self.options.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        from darre.wsgi import application

        return application


def main() -> None:
    """Read the command line, prepare the database, serve until stopped."""
    start = float(os.environ.get("DARRE_STARTED_AT", time.time()))
    parser = argparse.ArgumentParser(prog="darre.serve")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--demo", action="store_true", help="make the demo database anew first")
    given = parser.parse_args()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
    django.setup()
    call_command("demo_world") if given.demo else call_command("migrate", verbosity=0)
    from django.db import connections

    connections.close_all()  # a worker must not inherit an open database

    def ready(server: object) -> None:
        address = f"http://127.0.0.1:{given.port}/"
        print(  # noqa: T201
            f"darre: open {address} in your browser (up after {time.time() - start:.1f} s; Ctrl+C stops it)", flush=True
        )

    Server(
        bind=f"127.0.0.1:{given.port}",
        workers=1,
        threads=8,
        preload_app=True,
        control_socket_disable=True,
        loglevel="warning",
        when_ready=ready,
    ).run()


if __name__ == "__main__":
    main()
