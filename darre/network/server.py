"""The server as others reach it: its doors, its certificate, and opening or closing it, which takes a new start."""

import logging
import os
import signal
import threading
import time
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from django.conf import settings
from django.utils import timezone

from darre.network.addresses import is_taken, own_addresses
from darre.network.certificate import Certificate, made_here
from darre.network.kept import Kept, keep, read_kept

PORT, AGAIN = "DARRE_SERVING_PORT", "DARRE_SERVING_AGAIN"
TAKEN = "DARRE_SERVING_WITHOUT"
EVERYWHERE = "0.0.0.0"
AFTER_ANSWER_S = 0.5
_TRIES, _TRY_S = 6, 0.5


def certificate() -> Certificate:
    """The person's own where they named one, else one that is made here. Raises OSError."""
    if settings.TLS_CERTIFICATE and settings.TLS_KEY:
        return Certificate(Path(settings.TLS_CERTIFICATE), Path(settings.TLS_KEY), own=True)
    names = (*settings.NETWORK_NAMES, *own_addresses())
    return made_here(settings.DATABASE.parent / "tls", names, timezone.now())


def network_port(port: int) -> int:
    """The port of the door for other devices, next to that of the machine's own."""
    return port + 1


def _stays_taken(port: int) -> bool:
    """The door of the server before this one may take a moment to close."""
    for _ in range(_TRIES):
        if not is_taken(EVERYWHERE, port):
            return False
        time.sleep(_TRY_S)
    return True


def taken_port() -> int | None:
    """The port at which other devices were to come in, where another program had it when this server started."""
    taken = os.environ.get(TAKEN)
    return None if taken is None else int(taken)


def port_in_the_way() -> int | None:
    """The port at which other devices would come in, where another program has it now and they are not let in yet."""
    own = os.environ.get(PORT)
    if own is None or settings.NETWORK_OPEN:
        return None
    port = network_port(int(own))
    return port if is_taken(EVERYWHERE, port) else None


def doors(port: int) -> Mapping[str, Any]:
    """How the server is to listen: on this machine alone, or by TLS to others too. Where another program has the port
    for them, on this machine alone, and `taken_port` says so. Raises OSError.
    """
    here, others = f"127.0.0.1:{port}", network_port(port)
    os.environ.pop(TAKEN, None)
    if settings.NETWORK_OPEN and _stays_taken(others):
        os.environ[TAKEN] = str(others)
    if not settings.NETWORK_OPEN or taken_port():
        return {"bind": [here]}
    shown = certificate()
    return {
        "bind": [here, f"{EVERYWHERE}:{others}"],
        "worker_class": "darre.network.two_doors.TwoDoors",
        "certfile": str(shown.chain),
        "keyfile": str(shown.key),
    }


def addresses() -> list[str]:
    """Where others find this server, the likeliest first; none where it is served in another way."""
    port = os.environ.get(PORT)
    if port is None or taken_port():
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
