"""`python -m darre.serve`: bring the database up to date and serve, in one process so that starting is quick."""

import argparse
import os
import socket
import struct
import sys
import time
from pathlib import Path
from typing import Any

import django
from django.core.management import call_command
from gunicorn.app.base import BaseApplication

from darre.common.database_file import UnusableError
from darre.common.memory import collect_later, collect_rarely, share_memory
from darre.network import server as network

# How long a client may keep a thread waiting for the next bytes of what it sends, or before it takes what it gets.
PATIENCE_S = float(os.environ.get("DARRE_PATIENCE_S", "20"))


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


def prepare(*, demo: bool) -> None:
    """Take the database, look whether it can be worked with, and bring it up to date. Raises UnusableError."""
    from django.conf import settings
    from django.db import connections
    from django.utils import timezone

    from darre.backup.keeping import back_up
    from darre.backup.staged import put_back_staged
    from darre.common import database_file

    file = Path(str(settings.DATABASES["default"]["NAME"]))
    file.parent.mkdir(parents=True, exist_ok=True)
    database_file.lock(file)
    if demo:
        call_command("demo_world")  # it makes room for itself, whatever is there
    else:
        try:
            put_back_staged(file, timezone.now())
        except UnusableError as error:
            print(f"darre: the backup was not put back. {error}", flush=True)  # noqa: T201
        database_file.refuse_damaged(file)
        database_file.refuse_newer()
        database_file.refuse_read_only(file)
        if database_file.is_behind():
            back_up(file, timezone.now())  # before anything of it is changed
        call_command("migrate", verbosity=0)
    for part in (file, *file.parent.glob(f"{file.name}-*"), *file.parent.glob("secret_key")):
        part.chmod(0o600)
    connections.close_all()  # a worker must not inherit an open database


def limit_patience(server: Any) -> None:
    """Let connections fall that stay silent: they take the limit over from the socket they come in by."""
    wait = struct.pack("ll", int(PATIENCE_S), int(PATIENCE_S % 1 * 1e6))
    for listener in server.LISTENERS:
        for way in (socket.SO_RCVTIMEO, socket.SO_SNDTIMEO):
            listener.sock.setsockopt(socket.SOL_SOCKET, way, wait)


def say_where(port: int, start: float, *, lets_in: bool) -> None:
    """What the person at the machine reads once the server is up."""
    address, took = f"http://127.0.0.1:{port}/", time.time() - start
    print(f"darre: open {address} in your browser (up after {took:.1f} s; Ctrl+C stops it)", flush=True)  # noqa: T201
    if lets_in:
        print(f"darre: other devices: {' or '.join(network.addresses())}", flush=True)  # noqa: T201
    if (taken := network.taken_port()) is not None:
        print(f"darre: no other device can come in: port {taken} is taken by another program.", flush=True)  # noqa: T201


def begin_anew(again: Path, port: int) -> None:
    """Where the server stopped only to begin anew, become a new one: with other doors, and the same records. The
    worker comes by here too, when it ends.
    """
    if os.environ[network.AGAIN] == str(os.getpid()) and again.exists():
        again.unlink()
        os.environ["DARRE_STARTED_AT"] = str(time.time())
        os.execv(sys.executable, [sys.executable, "-m", "darre.serve", "--port", str(port)])


def load_loops() -> None:
    """The core's loops as machine code, which the worker will share; with a word where none are kept beside their
    source yet, as after an installation.
    """
    import drying

    if not any(Path(drying.__file__).parent.rglob("*.nbi")):
        print("darre: making the core's loops ready for this machine …", flush=True)  # noqa: T201
    from drying.dryers.together import steps  # noqa: F401
    from drying.storage import hourly  # noqa: F401
    from drying.transport import arrow, decay, knots, rosenbrock  # noqa: F401


def begin(*, demo: bool) -> None:
    """Set the framework up and prepare the database. Raises UnusableError."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
    load_loops()
    if demo:  # accounts of an earlier demo are gone: it begins on this machine alone
        os.environ["DARRE_NETWORK"] = "0"
    django.setup()
    if demo:
        del os.environ["DARRE_NETWORK"]  # it may be let out later on
    prepare(demo=demo)


def serve(port: int, start: float, *, demo: bool) -> None:
    """Serve until stopped. Raises SystemExit then."""
    from django.db import connections
    from django.urls import get_resolver

    from darre.backup.daily import keep_daily
    from darre.backup.keeping import database_file
    from darre.devices.thinning import thin
    from darre.diagnosis.photo_sweep import sweep_photos
    from darre.moisture.kept_shelf import keep, take
    from darre.moisture.warm import warm_up

    doors = network.doors(port)
    known = take(database_file())  # before the worker is there, so that its first page finds it
    connections.close_all()
    get_resolver().url_patterns  # noqa: B018  every view is loaded once, and not while somebody waits
    collect_rarely()  # in both processes: what the worker has from this one stays shared as long as nobody touches it

    def begun(worker: Any) -> None:
        warm_up(known=known)
        if not demo:
            keep_daily(database_file(), then=lambda now: (sweep_photos(now), thin(now)))

    def ready(server: Any) -> None:
        limit_patience(server)
        server.log.error_log.addFilter(network.tells_no_refusal)
        say_where(port, start, lets_in=len(doors["bind"]) > 1)

    Server(
        **doors,
        workers=1,
        threads=8,
        preload_app=True,
        limit_request_line=8190,  # a logger's layout stands in the address
        control_socket_disable=True,
        loglevel="warning",
        when_ready=ready,
        post_worker_init=begun,
        worker_exit=lambda server, worker: keep(database_file()),
    ).run()


def main() -> None:
    """Read the command line, prepare the database, serve until stopped."""
    start = float(os.environ.get("DARRE_STARTED_AT", time.time()))
    parser = argparse.ArgumentParser(prog="darre.serve")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--demo", action="store_true", help="make the demo database anew first")
    given = parser.parse_args()
    share_memory()
    collect_later()
    os.umask(0o077)  # what a person records is theirs alone
    os.environ |= {network.PORT: str(given.port), network.AGAIN: str(os.getpid())}
    try:
        begin(demo=given.demo)
    except UnusableError as error:
        sys.exit(f"darre: {error}")
    again = network.again_file()
    again.unlink(missing_ok=True)
    try:
        serve(given.port, start, demo=given.demo)
    except SystemExit:
        begin_anew(again, given.port)
        raise


if __name__ == "__main__":
    main()
