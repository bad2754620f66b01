"""The command `darre`, which an installed Darre has: serve, demo, backup, restore, export, import, bridge."""

import argparse
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Mapping
from pathlib import Path

from django.core.management import CommandError, call_command

from bridge.__main__ import main as bridge
from darre.network.addresses import is_taken
from darre.where import VAR_DIR

PORT = int(os.environ.get("DARRE_PORT", "8642"))
_LOOK_S = 0.1
_FILE_COMMANDS: Mapping[str, tuple[str, str]] = {
    "restore": ("restore", "put a backup back; what was there is kept"),
    "export": ("export_package", "write all records as open tables into one archive"),
    "import": ("import_package", "bring such an archive into a workshop without records"),
}


def _refuse_taken(port: int) -> None:
    if is_taken("127.0.0.1", port):
        sys.exit(
            f"darre: Port {port} is taken, perhaps by a Darre that is running already. "
            f"Stop that one, or choose another port, as in DARRE_PORT={port + 10}."
        )


def _module(name: str, *words: str) -> list[str]:
    return [sys.executable, "-m", name, *words]


def _is_up(server: "subprocess.Popen[bytes]", address: str) -> bool:
    while server.poll() is None:
        try:
            with urllib.request.urlopen(f"{address}/api/health/", timeout=1):
                return True
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(_LOOK_S)
    return False


def serve(port: int) -> None:
    """Serve the person's own records until stopped."""
    _refuse_taken(port)
    os.execv(sys.executable, _module("darre.serve", "--port", str(port)))


def demo(port: int) -> None:
    """Serve a demo workshop, made anew, with simulated devices that deliver to it."""
    _refuse_taken(port)
    database = os.environ.setdefault("DARRE_DB", str(VAR_DIR / "demo.sqlite3"))
    signal.signal(signal.SIGTERM, lambda *_: sys.exit())  # so that those begun here are stopped as well
    address, processes = f"http://127.0.0.1:{port}", []
    try:
        server = subprocess.Popen(_module("darre.serve", "--demo", "--port", str(port)))
        processes.append(server)
        if _is_up(server, address):
            processes.append(subprocess.Popen(_module("standins", f"{database}.standins.json", address)))
        if server.wait():
            sys.exit("darre: The server stopped; what it said stands above.")
    except KeyboardInterrupt:
        print("darre: stopped.", flush=True)  # noqa: T201
    finally:
        for process in reversed(processes):
            process.terminate()
            process.wait()


def _manage(command: str, *words: str) -> None:
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
    django.setup()
    try:
        call_command(command, *words)
    except CommandError as error:
        sys.exit(f"darre: {error}")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="darre", description=f"Your records are in {VAR_DIR}.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    for name, says in (("serve", "start with your own records"), ("demo", "start with a demo workshop, made anew")):
        commands.add_parser(name, help=says).add_argument("--port", type=int, default=PORT)
    commands.add_parser("backup", help="all records and photos in one file, also while Darre is running")
    for name, (_, says) in _FILE_COMMANDS.items():
        commands.add_parser(name, help=says).add_argument("file", type=Path)
    commands.add_parser("bridge", help="take readings from an MQTT broker and from serial ports (bridge -h says how)")
    return parser


def main(words: list[str] | None = None) -> None:
    """Read the command line and do it. Raises SystemExit where it cannot be done."""
    words = sys.argv[1:] if words is None else words
    if words[:1] == ["bridge"]:
        bridge(words[1:])
        return
    given = _parser().parse_args(words)
    if given.command == "serve":
        serve(given.port)
    elif given.command == "demo":
        demo(given.port)
    elif given.command == "backup":
        _manage("backup")
    else:
        _manage(_FILE_COMMANDS[given.command][0], str(given.file.resolve()))


if __name__ == "__main__":
    main()
