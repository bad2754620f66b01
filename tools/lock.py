#!/usr/bin/env python3
"""Write the lock files anew after a change of `requirements/*.in` or of the page's dependencies."""

from __future__ import annotations

import sys

from tools.install import ROOT, VAR, WEB, make_venv, run


def lock() -> None:
    make_venv()
    tools = VAR / "lock-tools"
    if not tools.exists():
        run(sys.executable, "-m", "venv", tools)
        run(tools / "bin/pip", "install", "--quiet", "pip-tools==7.6.2")
    for name in ("pip", "runtime", "dev", "bench", "mutants"):
        run(tools / "bin/pip-compile", "--quiet", "--generate-hashes", "--strip-extras", "--no-emit-index-url",
            "--no-emit-find-links", "--no-emit-trusted-host", "--no-emit-options", "--allow-unsafe",
            "-o", f"{name}.txt", f"{name}.in", cwd=ROOT / "requirements",
            env={"CUSTOM_COMPILE_COMMAND": "make lock"})  # fmt: skip
    run("npm", "install", "--package-lock-only", "--no-audit", "--no-fund", cwd=WEB)


if __name__ == "__main__":
    lock()
