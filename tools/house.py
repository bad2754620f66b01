"""Commands of the house, with nothing but Python's own library: `python3 -m tools.house COMMAND`."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping
from pathlib import Path

from tools.install import (
    BIN,
    ROOT,
    VAR,
    VENV,
    WEB,
    Stop,
    browser,
    development,
    node_modules,
    once,
    packages,
    page,
    parts,
    pip_install,
    run,
    runtime,
    say,
    together,
)

PORT = int(os.environ.get("DARRE_PORT", "8642"))


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
    for _ in range(1200):
        if process.poll() is not None:
            raise Stop("The server stopped at once; what it said stands above.")
        try:
            with urllib.request.urlopen(f"{address}/api/health/", timeout=1):
                return
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(0.1)
    process.terminate()
    raise Stop("The server did not answer within two minutes.")


def darre(command: str) -> None:
    """The app's own command line, which runs until it is stopped; what went wrong it has said."""
    started = time.time()
    together(runtime, page)
    env = {**os.environ, "DARRE_STARTED_AT": str(started)}
    process = subprocess.Popen(
        [str(BIN / "python"), "-m", "darre.cli", command, "--port", str(PORT)], cwd=ROOT, env=env
    )
    try:
        raise SystemExit(process.wait())
    except KeyboardInterrupt:
        process.wait()


def backup() -> None:
    """One file with all records and photos, also while Darre is running."""
    runtime()
    manage("backup")


def restore() -> None:
    """Put a backup back: `make restore FILE=…`. What was there is kept."""
    file = file_named("restore", "var/backups/darre/darre-….zip")
    runtime()
    manage("restore", str(file))


def file_named(command: str, example: str) -> Path:
    """The file that the command was given as FILE=…"""
    file = os.environ.get("FILE", "")
    if not file:
        raise Stop(f"Say which file: make {command} FILE={example}")
    return (ROOT / file).resolve()


def export() -> None:
    """All records as open tables in one archive, also while Darre is running."""
    file = file_named("export", "darre.zip")
    runtime()
    manage("export_package", str(file))


def import_package() -> None:
    """An archive of open tables into a workshop without records: `make import FILE=…`, in `DB=another.sqlite3`."""
    file = file_named("import", "darre.zip")
    runtime()
    manage("import_package", str(file), env={"DARRE_DB": str(VAR / os.environ.get("DB", "darre.sqlite3"))})


def wheel() -> None:
    """One package with the page inside, which is installed where there is no Node: `pip install` that file."""
    development()
    page()
    build_wheel(ROOT / "dist")


def build_wheel(folder: Path) -> Path:
    """The wheel in a folder, built without a network. The page must be built."""
    run(BIN / "python", "-m", "hatchling", "build", "--target", "wheel", "--directory", folder, cwd=ROOT, quiet=True)
    newest = max(folder.glob("darre-*.whl"), key=lambda file: file.stat().st_mtime)
    say(f"built {newest}: `pip install` it, then `darre demo`")
    return newest


def bridge() -> None:
    """Readings from an MQTT broker and from serial ports, as `FILE=bridge.toml` says; with `FILE=demo` from stand-ins
    beside a running demo. `LOOK=1` shows what arrives and sends nothing.
    """
    words = ["--look"] if os.environ.get("LOOK") else []
    if os.environ.get("FILE") == "demo":
        development()
        world = VAR / "demo.sqlite3.standins.json"
        run(BIN / "python", "-m", "standins.bridged", world, f"http://127.0.0.1:{PORT}", *words)
        return
    file = file_named("bridge", "bridge.toml")
    runtime()
    run(BIN / "python", "-m", "bridge", file, *words)


def check_python() -> None:
    packages()
    run(BIN / "ruff", "check", ".")
    run(BIN / "ruff", "format", "--check", "--quiet", ".")
    run(BIN / "lint-imports", quiet=True)
    run(BIN / "mypy", "drying", "gcode", "darre", "bridge", "standins", "e2e", "tools")
    development()  # the types need not wait for the loops
    manage("makemigrations", "--check", "--dry-run", "--verbosity", "0")


def check_page(*scripts: str) -> None:
    for script in scripts:
        run("npm", "run", "--silent", script, cwd=WEB)


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


def page_lint(*, quick: bool = False) -> None:
    """`quick`: without the rules that take two thirds of the time."""
    node_modules()
    env = {"QUICK": "1"} if quick else None
    timed("page lint", lambda: run("npm", "run", "--silent", "lint", cwd=WEB, env=env))


def all_but_page_lint() -> None:
    packages()
    node_modules()
    timed("Python lint, imports, types, migrations", check_python)
    timed("page types, format, unused code", lambda: check_page("types", "format:check", "unused"))
    timed("API contract", check_schema)


def check() -> None:
    together(all_but_page_lint, page_lint)  # the lint takes as long as all the rest


TESTED = ("drying", "gcode", "darre", "bridge", "standins", "tools", "e2e")


def run_tests(*labels: str) -> None:
    """Django's runner over packages, files or single tests; two processes more than cores, as browsers often wait."""
    workers = str(min((os.cpu_count() or 1) + 2, 6))
    manage("test", *labels, "--parallel", workers, env={"DJANGO_ALLOW_ASYNC_UNSAFE": "true"})


def test_only(labels: str) -> None:
    """What `make test only=drying.air` runs: those tests alone, without the checks."""
    development()
    if any(label.split(".")[0] == "e2e" for label in labels.split()):
        together(page, parts, browser)
    run_tests(*labels.split())


def test() -> None:
    if only := os.environ.get("ONLY"):
        test_only(only)
        return

    def tests() -> None:
        together(development, page, parts, browser)
        run_tests(*TESTED)

    def checks() -> None:
        page_lint(quick=True)
        all_but_page_lint()

    together(tests, checks)


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
    for part in (
        "bench",
        "bench_plans",
        "bench_acceptance",
        "bench_endpoint",
        "bench_particles",
        "bench_schedule",
        "bench_trials",
        "bench_evidence",
        "bench_hostile",
        "bench_rack",
        "bench_ingest",
        "bench_page",
        "bench_acts",
        "load",
    ):
        run(BIN / "python", "-m", f"tools.{part}")
    os.environ["WORKSHOPS"] = "500"
    run(BIN / "python", "manage.py", "test", "darre.planning.tests.test_one_answer", "-k", "DrawnWorkshops")
    run(BIN / "python", "-m", "tools.measured")


def mutants() -> None:
    development()
    once("mutants", [ROOT / "requirements/mutants.txt"], "installing what breaks the core on purpose",
         lambda: pip_install("mutants"), BIN / "cosmic-ray")  # fmt: skip
    # A mutant of the same second and size would be taken for the code that was compiled before it.
    run(BIN / "python", "-m", "tools.mutants", env={"PYTHONDONTWRITEBYTECODE": "1"})


def chaos() -> None:
    """Kills and sixteen clients against a real server, with a table of figures; kills while people sign in and while a
    backup is put back; then full disks, torn files, jumping clocks, and backups while somebody writes.
    """
    development()
    kills = os.environ.get("KILLS", "200")
    run(BIN / "python", "-m", "tools.chaos", kills)
    run(BIN / "python", "-m", "tools.chaos_doors", str(max(int(kills) // 5, 1)))
    env = {"DJANGO_ALLOW_ASYNC_UNSAFE": "true"}
    manage("test", "darre.common.tests.test_faults", "darre.common.tests.test_sixteen_clients", "darre.backup", env=env)


def fuzz() -> None:
    """20,000 generated requests, every hostile value in every field of every act, and sixteen clients at every act."""
    development()
    env = {"FUZZ_SHARE": "1", "FUZZ_CASES": os.environ.get("FUZZ_CASES", "20000"), "CLIENTS": "16"}
    tests = ("test_hostile_values", "test_whole_contract", "test_every_act_at_once")
    manage("test", *(f"darre.common.tests.{name}" for name in tests), env={**env, "DJANGO_ALLOW_ASYNC_UNSAFE": "true"})


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
    "demo": lambda: darre("demo"),
    "serve": lambda: darre("serve"),
    "wheel": wheel,
    "bridge": bridge,
    "backup": backup,
    "restore": restore,
    "export": export,
    "import": import_package,
    "test": test,
    "check": check,
    "dev": dev,
    "bench": bench,
    "mutants": mutants,
    "chaos": chaos,
    "fuzz": fuzz,
    "shots": shots,
    "figures": figures,
    "schema": schema,
    "lock": lambda: run(sys.executable, "-m", "tools.lock"),
    "clean": clean,
}


def main() -> int:
    if len(sys.argv) != 2 or sys.argv[1] not in COMMANDS:
        print(f"usage: python3 -m tools.house {{{','.join(COMMANDS)}}}")
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
