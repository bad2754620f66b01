#!/usr/bin/env python3
"""Set-up and commands of the house, with nothing but Python's own library.

Each step leaves a stamp of what it was made from and is skipped while that has not changed, so every command may be
repeated at will. What goes wrong is said in a sentence with the way out.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterable, Mapping
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VAR, VENV, WEB = ROOT / "var", ROOT / ".venv", ROOT / "web"
BIN = VENV / "bin"
PORT = int(os.environ.get("DARRE_PORT", "8642"))
LEAST_PYTHON, LEAST_NODE = (3, 11), (20, 19)


class Stop(Exception):  # noqa: N818  ends the command with a sentence
    """A sentence for the person at the keyboard."""


def say(text: str) -> None:
    print(f"darre: {text}", flush=True)


def run(*command: str | Path, cwd: Path = ROOT, quiet: bool = False, env: Mapping[str, str] | None = None) -> None:
    """Run a command; stop with a sentence where it fails, its own output above it."""
    words = [str(c) for c in command]
    done = subprocess.run(
        words, cwd=cwd, env={**os.environ, **(env or {})}, check=False, text=True, capture_output=quiet
    )
    if done.returncode:
        if quiet:
            print(done.stdout + done.stderr, flush=True)
        raise Stop(f"`{' '.join(words[:4])} …` failed; what it said stands above.")


def digest(paths: Iterable[Path]) -> str:
    found = hashlib.sha256()
    for path in sorted(paths):
        found.update(str(path.relative_to(ROOT)).encode())
        found.update(path.read_bytes())
    return found.hexdigest()


def once(name: str, sources: Iterable[Path], what: str, do: Callable[[], None], made: Path) -> None:
    """Do a step unless its stamp says that it was done from the same sources."""
    stamp, wanted = VAR / "stamps" / name, digest(sources)
    if made.exists() and stamp.exists() and stamp.read_text() == wanted:
        return
    stamp.unlink(missing_ok=True)
    say(what)
    start = time.monotonic()
    do()
    stamp.parent.mkdir(parents=True, exist_ok=True)
    stamp.write_text(wanted)
    say(f"… done in {time.monotonic() - start:.0f} s.")


def as_root(*command: str) -> list[str]:
    if os.geteuid() == 0:
        return list(command)
    if shutil.which("sudo"):
        return ["sudo", *command]
    raise Stop(f"Please run this as root, then try again: {' '.join(command)}")


def apt_install(*packages: str) -> None:
    if not shutil.which("apt-get"):
        raise Stop(f"Please install {', '.join(packages)} with your system's package manager, then try again.")
    run(*as_root("apt-get", "update", "-qq"), quiet=True)
    run(*as_root("apt-get", "install", "-y", "-qq", "--no-install-recommends", *packages), quiet=True,
        env={"DEBIAN_FRONTEND": "noninteractive"})  # fmt: skip


def make_venv() -> None:
    if sys.version_info[:2] < LEAST_PYTHON:
        raise Stop(f"Python {'.'.join(map(str, LEAST_PYTHON))} or newer is needed; this is {sys.version.split()[0]}.")
    if (BIN / "python").exists():
        return
    say("making the Python environment in .venv")
    shutil.rmtree(VENV, ignore_errors=True)
    if subprocess.run([sys.executable, "-m", "venv", str(VENV)], check=False, capture_output=True).returncode:
        apt_install("python3-venv")
        shutil.rmtree(VENV, ignore_errors=True)
        run(sys.executable, "-m", "venv", VENV)


def pip_install(lock: str) -> None:
    run(BIN / "python", "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--require-hashes",
        "-r", f"requirements/{lock}.txt")  # fmt: skip


def runtime() -> None:
    make_venv()
    once("runtime", [ROOT / "requirements/runtime.txt"], "installing what Darre runs on (about a minute)",
         lambda: pip_install("runtime"), BIN / "gunicorn")  # fmt: skip


def development() -> None:
    runtime()
    once("dev", [ROOT / "requirements/dev.txt"], "installing the development tools", lambda: pip_install("dev"),
         BIN / "mypy")  # fmt: skip


def check_node() -> None:
    node = shutil.which("node")
    if not node or not shutil.which("npm"):
        raise Stop("Node and npm are needed to build the page. Please install Node 20.19 or newer, then try again.")
    version = subprocess.run([node, "--version"], check=True, capture_output=True, text=True).stdout.strip()
    if tuple(int(n) for n in version.lstrip("v").split(".")[:2]) < LEAST_NODE:
        raise Stop(f"Node {'.'.join(map(str, LEAST_NODE))} or newer is needed; this machine has {version}.")


def node_modules() -> None:
    check_node()
    once("npm", [WEB / "package-lock.json"], "installing what the page is built with (about a minute)",
         lambda: run("npm", "ci", "--no-audit", "--no-fund", "--loglevel=error", cwd=WEB),
         WEB / "node_modules/.bin/vite")  # fmt: skip


def page_sources() -> list[Path]:
    files = [p for p in (WEB / "src").rglob("*") if p.is_file()]
    return [*files, WEB / "index.html", WEB / "package-lock.json", WEB / "vite.config.ts", WEB / "tsconfig.json"]


def build_page() -> None:
    run(WEB / "node_modules/.bin/vite", "build", "--logLevel", "warn", cwd=WEB)
    run(BIN / "python", "-m", "whitenoise.compress", "--quiet", WEB / "dist")


def page() -> None:
    stamp = VAR / "stamps" / "page"
    if stamp.exists() and stamp.read_text() == digest(page_sources()) and (WEB / "dist/index.html").exists():
        return
    node_modules()
    once("page", page_sources(), "building the page", build_page, WEB / "dist/index.html")


def parts() -> None:
    """The page's plain functions as one script that the tests load."""
    node_modules()
    once("parts", [*page_sources(), *(WEB / "tests").iterdir()], "laying the page's functions open for the tests",
         lambda: run(WEB / "node_modules/.bin/vite", "build", "--config", "tests/vite.config.ts", "--logLevel", "warn",
                     cwd=WEB),
         WEB / "dist-parts/parts.js")  # fmt: skip


def browser() -> None:
    if not shutil.which("chromium"):
        say("installing Debian's chromium for the browser tests (about a minute)")
        apt_install("chromium")


def free_port(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            raise Stop(
                f"Port {port} is taken, perhaps by a Darre that is running already. "
                f"Stop that one, or choose another port: DARRE_PORT={port + 1} make demo"
            ) from None


def manage(*words: str, env: Mapping[str, str] | None = None) -> None:
    run(BIN / "python", "manage.py", *words, env=env)


def server(database: str, port: int, *, demo: bool, started: float) -> subprocess.Popen[bytes]:
    """Start serving a database; the server itself says where when it is up."""
    env = {**os.environ, "DARRE_DB": str(VAR / database), "DARRE_STARTED_AT": str(started)}
    words = [str(BIN / "python"), "-m", "darre.serve", "--port", str(port), *(["--demo"] if demo else [])]
    return subprocess.Popen(words, cwd=ROOT, env=env)


def wait_until_up(process: subprocess.Popen[bytes], address: str) -> None:
    for _ in range(300):
        if process.poll() is not None:
            raise Stop("The server stopped at once; what it said stands above.")
        try:
            with urllib.request.urlopen(f"{address}/api/health/", timeout=1):
                return
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(0.1)
    process.terminate()
    raise Stop("The server did not answer within 30 s.")


def serve(database: str, *, demo: bool) -> None:
    started = time.time()
    runtime()
    page()
    free_port(PORT)
    process = server(database, PORT, demo=demo, started=started)
    devices = stand_ins(database, process) if demo else None
    try:
        if process.wait():
            raise Stop("The server stopped; what it said stands above.")
    except KeyboardInterrupt:
        say("stopped.")
    finally:
        if devices:
            devices.terminate()
        process.terminate()
        process.wait()


def stand_ins(database: str, process: subprocess.Popen[bytes]) -> subprocess.Popen[bytes]:
    """The demo's scale, logger and meter, in a process of their own."""
    address = f"http://127.0.0.1:{PORT}"
    wait_until_up(process, address)
    return subprocess.Popen([str(BIN / "python"), "-m", "standins", str(VAR / f"{database}.standins.json"), address],
                            cwd=ROOT)  # fmt: skip


def check_python() -> None:
    development()
    run(BIN / "ruff", "check", ".")
    run(BIN / "ruff", "format", "--check", "--quiet", ".")
    run(BIN / "lint-imports", quiet=True)
    run(BIN / "mypy", "drying", "gcode", "darre", "standins", "e2e", "tools")
    manage("makemigrations", "--check", "--dry-run", "--verbosity", "0")


def check_page() -> None:
    node_modules()
    for words in (("run", "--silent", "types"), ("run", "--silent", "lint"), ("run", "--silent", "format:check"),
                  ("run", "--silent", "unused")):  # fmt: skip
        run("npm", *words, cwd=WEB)


def write_schema(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    manage("spectacular", "--file", str(folder / "openapi.yaml"), "--validate", "--fail-on-warn")
    run(WEB / "node_modules/.bin/openapi-typescript", folder / "openapi.yaml", "-o", folder / "schema.d.ts",
        cwd=WEB, quiet=True)  # fmt: skip


def check_schema() -> None:
    fresh = VAR / "schema"
    write_schema(fresh)
    for kept, name in ((ROOT / "docs/openapi.yaml", "openapi.yaml"), (WEB / "src/api/schema.d.ts", "schema.d.ts")):
        if kept.read_text() != (fresh / name).read_text():
            raise Stop(f"{kept.relative_to(ROOT)} does not match the API. Run `make schema` and commit the result.")


def timed(name: str, step: Callable[[], None]) -> None:
    start = time.monotonic()
    step()
    say(f"{name}: fine ({time.monotonic() - start:.0f} s)")


def check() -> None:
    timed("Python lint, imports, types, migrations", check_python)
    timed("page types, lint, format, unused code", check_page)
    timed("API contract", check_schema)


TESTED = ("drying", "gcode", "darre", "standins", "tools", "e2e")


def run_tests(*labels: str) -> None:
    """Django's runner over packages, files or single tests; in parallel, as far as there are cores."""
    workers = str(min(os.cpu_count() or 1, 4))
    manage("test", *labels, "--parallel", workers, env={"DJANGO_ALLOW_ASYNC_UNSAFE": "true"})


def test_only(labels: str) -> None:
    """What `make test only=drying.air` runs: those tests alone, without the checks."""
    development()
    if any(label.split(".")[0] == "e2e" for label in labels.split()):
        browser()
        page()
        parts()
    run_tests(*labels.split())


def test() -> None:
    if only := os.environ.get("ONLY"):
        test_only(only)
        return
    browser()
    check()
    page()
    parts()
    run_tests(*TESTED)


def dev() -> None:
    development()
    node_modules()
    free_port(PORT)
    env = {"DARRE_DB": str(VAR / "demo-dev.sqlite3"), "DARRE_DEBUG": "true"}
    manage("demo_world", env=env)
    server = subprocess.Popen(
        [str(BIN / "python"), "manage.py", "runserver", f"127.0.0.1:{PORT}"], cwd=ROOT, env={**os.environ, **env}
    )
    try:
        run(WEB / "node_modules/.bin/vite", cwd=WEB, env={"DARRE_PORT": str(PORT)})
    finally:
        server.terminate()


def peers() -> None:
    """What the measurements compare with, and what draws the figures of the docs. No part of the app or its tests."""
    development()
    once("bench", [ROOT / "requirements/bench.txt"], "installing the peers that are measured against",
         lambda: pip_install("bench"), BIN / "f2py")  # fmt: skip


def bench() -> None:
    peers()
    browser()
    page()
    run(BIN / "python", "-m", "tools.bench")
    run(BIN / "python", "-m", "tools.bench_endpoint")
    run(BIN / "python", "-m", "tools.bench_evidence")
    run(BIN / "python", "-m", "tools.bench_rack")
    run(BIN / "python", "-m", "tools.bench_ingest")
    run(BIN / "python", "-m", "tools.bench_page")


def shots() -> None:
    browser()
    development()
    page()
    run(BIN / "python", "-m", "tools.shots", env={"DJANGO_ALLOW_ASYNC_UNSAFE": "true"})


def figures() -> None:
    peers()
    run(BIN / "python", "-m", "tools.figures")
    run(BIN / "python", "-m", "tools.draw_house")


def schema() -> None:
    development()
    node_modules()
    fresh = VAR / "schema"
    write_schema(fresh)
    shutil.copy(fresh / "openapi.yaml", ROOT / "docs/openapi.yaml")
    shutil.copy(fresh / "schema.d.ts", WEB / "src/api/schema.d.ts")
    say("wrote docs/openapi.yaml and web/src/api/schema.d.ts")


def clean() -> None:
    for folder in (VENV, WEB / "node_modules", WEB / "dist", WEB / "dist-parts", VAR / "stamps"):
        shutil.rmtree(folder, ignore_errors=True)
    say("removed the environments and the built page; your records in var/ are still there.")


COMMANDS: dict[str, Callable[[], None]] = {
    "demo": lambda: serve("demo.sqlite3", demo=True),
    "serve": lambda: serve("darre.sqlite3", demo=False),
    "test": test,
    "check": check,
    "dev": dev,
    "bench": bench,
    "shots": shots,
    "figures": figures,
    "schema": schema,
    "lock": lambda: run(sys.executable, "-m", "tools.lock"),
    "clean": clean,
}


def main() -> int:
    if len(sys.argv) != 2 or sys.argv[1] not in COMMANDS:
        print(f"usage: python3 tools/house.py {{{','.join(COMMANDS)}}}")
        return 2
    try:
        COMMANDS[sys.argv[1]]()
    except Stop as stop:
        print(f"darre: {stop}", file=sys.stderr, flush=True)
        return 1
    except KeyboardInterrupt:
        return 130
    return 0


if __name__ == "__main__":
    sys.exit(main())
