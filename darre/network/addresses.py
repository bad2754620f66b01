"""The addresses and names of this machine, as other devices in its network see them."""

import ipaddress
import socket
import threading
import time

# Reserved for examples, so nothing is there: the system only says which of its own addresses it would send from.
NOWHERE = ("192.0.2.1", 9)
LOOK_AGAIN_S = 10.0
_lock = threading.Lock()
_looked: list[tuple[float, tuple[str, ...]]] = []


def _sends_from() -> str | None:
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            probe.connect(NOWHERE)
            address = str(probe.getsockname()[0])
    except OSError:
        return None
    return None if ipaddress.ip_address(address).is_loopback else address


def is_taken(host: str, port: int) -> bool:
    """Whether another program has a port at an address of this machine."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return True
    return False


def own_addresses() -> tuple[str, ...]:
    """The IP addresses that others reach this machine by; none without a network.

    Nothing is sent. Looked up again after ten seconds, as a machine may come into another network.
    """
    with _lock:
        now = time.monotonic()
        if not _looked or now - _looked[0][0] > LOOK_AGAIN_S:
            found = _sends_from()
            _looked[:] = [(now, (found,) if found else ())]
        return _looked[0][1]


def own_names() -> tuple[str, ...]:
    """Names that others in the network may know this machine by."""
    name = socket.gethostname().lower().split(".")[0]
    return (f"{name}.local", name) if name and name != "localhost" else ()
