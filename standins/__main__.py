"""`python -m standins WORLD.json http://127.0.0.1:PORT [--speed N]`: be the devices of the demo until stopped."""

import argparse
import contextlib
import json
from pathlib import Path

from standins.sending import run

if __name__ == "__main__":
    parser = argparse.ArgumentParser(prog="standins")
    parser.add_argument("world", type=Path)
    parser.add_argument("address")
    parser.add_argument("--speed", type=float, default=1.0, help="over 1: play the past since the start first")
    given = parser.parse_args()
    with contextlib.suppress(KeyboardInterrupt):
        run(json.loads(given.world.read_text("utf-8")), given.address, given.speed)
