"""Steps of set-up: each leaves a stamp of what it was made from and is skipped while that has not changed, so every
command may be repeated at will. What goes wrong is said in a sentence with the way out. Python's own library alone.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
import threading
import time
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VAR, VENV, WEB = ROOT / "var", ROOT / ".venv", ROOT / "web"
BIN = VENV / "bin"
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


IN_HAND: defaultdict[str, threading.Lock] = defaultdict(threading.Lock)


def once(name: str, sources: Iterable[Path], what: str, do: Callable[[], None], made: Path) -> None:
    """Do a step unless its stamp says that it was done from the same sources; one who asks meanwhile waits for it."""
    with IN_HAND[name]:
        _once(name, sources, what, do, made)


def is_done(name: str, sources: Iterable[Path], made: Path) -> bool:
    """Whether a step's stamp says that it was done from these sources."""
    stamp = VAR / "stamps" / name
    return made.exists() and stamp.exists() and stamp.read_text() == digest(sources)


def _once(name: str, sources: Iterable[Path], what: str, do: Callable[[], None], made: Path) -> None:
    stamp, wanted = VAR / "stamps" / name, digest(sources)
    if is_done(name, sources, made):
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
    with IN_HAND["apt"]:  # two of them at once would fail on its own lock
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


def pip_install(*locks: str) -> None:
    """Install what lock files name. Bytecode is made where it is first needed: most modules never are."""
    files = [word for lock in locks for word in ("-r", f"requirements/{lock}.txt")]
    run(BIN / "python", "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--no-compile",
        "--require-hashes", *files)  # fmt: skip


def lock_files(*locks: str) -> list[Path]:
    return [ROOT / f"requirements/{lock}.txt" for lock in ("pip", *locks)]


def install(name: str, what: str, locks: Sequence[str], made: Path) -> None:
    """Lock files at one go, by a pip of our own: that of an older Python takes twice the time."""
    make_venv()

    def do() -> None:
        pip_install("pip")
        pip_install(*locks)

    once(name, lock_files(*locks), what, do, made)


RUNTIME, DEVELOPMENT = ["runtime"], ["runtime", "dev"]


def apart(sources: Mapping[str, str]) -> list[list[str]]:
    """Modules by name, in two heaps of about as much source, of which neither takes anything from the other."""
    taken = {name: [other for other in sources if f"from {other} import" in text] for name, text in sources.items()}
    heap_of = {name: {name} for name in sources}
    for name, others in taken.items():
        heap = heap_of[name].union(*[heap_of[other] for other in others])
        heap_of.update(dict.fromkeys(heap, heap))
    heaps: tuple[list[str], list[str]] = [], []
    whole = {tuple(sorted(heap)) for heap in heap_of.values()}
    for names in sorted(whole, key=lambda names: (-size(names, sources), names)):
        min(heaps, key=lambda heap: size(heap, sources)).extend(names)
    return [names for names in heaps if names]


def size(names: Iterable[str], sources: Mapping[str, str]) -> int:
    return sum(len(sources[name]) for name in names)


def loop_sources() -> dict[str, str]:
    """The modules of the core that have loops, by name."""
    core = [file for file in (ROOT / "drying").rglob("*.py") if "tests" not in file.parts]
    sources = {".".join(file.relative_to(ROOT).with_suffix("").parts): file.read_text() for file in core}
    return {name: text for name, text in sources.items() if "\n@compiled(" in text}


def loops() -> None:
    """The core's loops as machine code, so that no plan waits for it: two processes take half a minute, one a whole."""
    sources = loop_sources()
    files = [ROOT / f"{name.replace('.', '/')}.py" for name in (*sources, "drying.compiled")]
    compiles = [partial(run, BIN / "python", "-c", f"import {', '.join(names)}") for names in apart(sources)]
    once("loops", [*files, *lock_files("runtime")], "compiling the core's loops for this machine",
         lambda: together(*compiles), BIN / "python")  # fmt: skip


def packages() -> None:
    """What Darre runs on and is tested with, without its loops as machine code."""
    with IN_HAND["python"]:
        install("dev", "installing what Darre runs on and is tested with", DEVELOPMENT, BIN / "mypy")


def development() -> None:
    packages()
    loops()


def runtime() -> None:
    """What Darre runs on; where the development tools are there, so is that."""
    with IN_HAND["python"]:
        if not is_done("dev", lock_files(*DEVELOPMENT), BIN / "mypy"):
            install("runtime", "installing what Darre runs on", RUNTIME, BIN / "gunicorn")
    loops()


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
    names = ("index.html", "package-lock.json", "vite.config.ts", "vite.worker.config.ts", "tsconfig.json")
    return [*files, *(WEB / "public").iterdir(), *(WEB / name for name in names)]


def build_page() -> None:
    vite = WEB / "node_modules/.bin/vite"
    run(vite, "build", "--logLevel", "warn", cwd=WEB)
    run(vite, "build", "--config", "vite.worker.config.ts", "--logLevel", "warn", cwd=WEB)
    runtime()  # it may be on its way beside this
    run(BIN / "python", "-m", "whitenoise.compress", "--quiet", WEB / "dist")


def page() -> None:
    if is_done("page", page_sources(), WEB / "dist/index.html"):
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
    """Debian's Chromium without a window of its own, which takes a fifth less time; the whole one does as well."""
    if shutil.which("chromium-headless-shell"):
        return
    say("installing Debian's headless chromium for the browser tests (about a minute)")
    try:
        apt_install("chromium-headless-shell")
    except Stop:
        if not shutil.which("chromium"):
            raise


def together(*steps: Callable[[], None]) -> None:
    """Do steps at the same time; where some fail, the first of them in order stops the command."""
    with ThreadPoolExecutor(len(steps)) as pool:
        begun = [pool.submit(step) for step in steps]
    for one in begun:
        one.result()
