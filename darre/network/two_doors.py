"""One server with two doors: plain HTTP for this machine alone, TLS for every other device."""

import ipaddress
from typing import Any

from gunicorn.config import Config
from gunicorn.workers.gthread import TConn, ThreadWorker


class Plain:
    """The server's configuration for connections that never leave this machine."""

    is_ssl = False

    def __init__(self, cfg: Config) -> None:
        self._cfg = cfg

    def __getattr__(self, name: str) -> Any:
        return getattr(self._cfg, name)


def stays_here(listener: object) -> bool:
    """Whether a listener's address can be reached from this machine alone."""
    return isinstance(listener, tuple) and ipaddress.ip_address(listener[0]).is_loopback


class TwoDoors(ThreadWorker):
    """A worker that speaks TLS at all doors but the machine's own."""

    def enqueue_req(self, conn: TConn) -> None:
        if stays_here(conn.server) and not isinstance(conn.cfg, Plain):
            conn.cfg = Plain(conn.cfg)
        super().enqueue_req(conn)
