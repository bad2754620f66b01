"""The demo's scale on a port and its logger behind a broker, and the bridge that reads both:
`python -m standins.bridged WORLD.json http://127.0.0.1:PORT [--look]`, beside a running demo.
"""

from __future__ import annotations

import json
import socket
import subprocess
import sys
import tempfile
import threading
from pathlib import Path

from bridge.__main__ import main as bridge
from standins import port as scale
from standins.broker import TOPIC
from standins.sending import World

SETTINGS = """\
darre = "{darre}"
[mqtt]
host = "127.0.0.1"
port = {port}
[[mqtt.topic]]
topic = "{topic}"
token = "{logger}"
units = {{ temp_c = "F" }}
[[serial]]
port = "{path}"
token = "{scale}"
"""


def free_port() -> int:
    """A port that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def main(file: Path, darre: str, *words: str) -> None:
    """Be the scale, the broker and its logger, and bridge them, until stopped."""
    told = json.loads(file.read_text("utf-8"))
    own, path = scale.opened()
    threading.Thread(target=scale.run, args=(World(**told["world"]), own), daemon=True).start()
    port, tokens = free_port(), told["tokens"]
    broker = subprocess.Popen([sys.executable, "-m", "standins.broker", str(file), str(port)])
    with tempfile.TemporaryDirectory() as folder:
        settings = Path(folder) / "bridge.toml"
        settings.write_text(
            SETTINGS.format(
                darre=darre, port=port, topic=TOPIC, path=path, logger=tokens["logger"], scale=tokens["scale"]
            )
        )
        try:
            bridge([str(settings), *words])
        finally:
            broker.kill()
            broker.wait()


if __name__ == "__main__":
    main(Path(sys.argv[1]), *sys.argv[2:])
