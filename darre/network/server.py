"""The server as others reach it: its doors, its certificate, and opening or closing it, which takes a new start."""

import logging
import os
import signal
import threading
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from django.conf import settings
from django.utils import timezone

from darre.network.addresses import own_addresses
from darre.network.certificate import Certificate, made_here
from darre.network.kept import Kept, keep, read_kept

PORT, AGAIN = "DARRE_SERVING_PORT", "DARRE_SERVING_AGAIN"
AFTER_ANSWER_S = 0.5


def certificate() -> Certificate:
    """The person's own where they named one, else one that is made here. Raises OSError."""
    if settings.TLS_CERTIFICATE and settings.TLS_KEY:
        return Certificate(Path(settings.TLS_CERTIFICATE), Path(settings.TLS_KEY), own=True)
    names = (*settings.NETWORK_NAMES, *own_addresses())
    return made_here(settings.DATABASE.parent / "tls", names, timezone.now())


def network_port(port: int) -> int:
    """The port of the door for other devices, next to that of the machine's own."""
    return port + 1


def doors(port: int) -> Mapping[str, Any]:
    """How the server is to listen: on this machine alone, or by TLS to others too. Raises OSError."""
    here = f"127.0.0.1:{port}"
    if not settings.NETWORK_OPEN:
        return {"bind": [here]}
    shown = certificate()
    return {
        "bind": [here, f"0.0.0.0:{network_port(port)}"],
        "worker_class": "darre.network.two_doors.TwoDoors",
        "certfile": str(shown.chain),
        "keyfile": str(shown.key),
    }


def addresses() -> list[str]:
    """Where others find this server, the likeliest first; none where it is served in another way."""
    port = os.environ.get(PORT)
    if port is None:
        return []
    reached = (*own_addresses(), *settings.NETWORK_NAMES)
    return [f"https://{name}:{network_port(int(port))}/" for name in reached]


def base_address(own: str) -> str:
    """Where phones reach this server, where they are let in; else `own`, by which it was asked."""
    reached = addresses() if settings.NETWORK_OPEN else []
    return reached[0] if reached else own


def set_open(*, to_others: bool) -> bool:
    """Let other devices in, or shut them out, from the next start on; True where that start comes by itself now.
    Raises OSError.
    """
    kept = read_kept(settings.DATABASE)
    keep(settings.DATABASE, Kept(to_others, kept.names))
    return start_again()


def start_again() -> bool:
    """Ask the process that serves to begin anew, once the answer to this request is out; False where it is not ours."""
    server = os.environ.get(AGAIN)
    if server is None or int(server) != os.getppid():
        return False
    threading.Timer(AFTER_ANSWER_S, os.kill, (int(server), signal.SIGTERM)).start()
    again_file().touch(mode=0o600)
    return True


def tells_no_refusal(record: logging.LogRecord) -> bool:
    """For the server's log: a browser that does not know the certificate yet hangs up at every try until its person
    trusts it. That is no fault to tell of.
    """
    return "CERTIFICATE_UNKNOWN" not in record.getMessage()


def again_file() -> Path:
    """Its being there says that the server stops only to begin anew."""
    return settings.DATABASE.with_name(f"{settings.DATABASE.name}.again")
