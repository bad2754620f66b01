"""Break the core in small ways, one at a time, and see whether a test turns red.

A sample of places is drawn from all of `drying/`; at each the code is changed in one way: a sign, a comparison, a
number, a condition. A mutant that survives is a rule that no test keeps. It is tried against the tests that name most
of what stands in its file, which mostly notice it within seconds, then against those of its own package, then against
those of all packages that stand on it. The places and changes come from cosmic-ray; each mutant is tried in a copy of
the checkout, so that this one is never touched.
"""

from __future__ import annotations

import hashlib
import os
import random
import re
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

import cosmic_ray.commands
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator
from cosmic_ray.work_db import use_db
from cosmic_ray.work_item import MutationSpec

from tools.install import BIN, ROOT, VAR, say

SAMPLE = int(os.environ.get("SAMPLE", "200"))
SEED = int(os.environ.get("SEED", "2026"))
LEAST = 0.80
NEAREST = 3  # files of tests
WAIT_S = 240
SAME = ROOT / "tools/mutants_that_change_nothing.txt"

# Changes that stand for a slip of the hand. What could only crash, such as a shift of a float, would flatter the tests.
SLIPS = re.compile(
    r"ReplaceBinaryOperator_(Add|Sub|Mul|Div)_(Add|Sub|Mul|Div)$"
    r"|ReplaceBinaryOperator_Pow_Mul$"
    r"|ReplaceComparisonOperator_(Lt|LtE|Gt|GtE)_(Lt|LtE|Gt|GtE)$"
    r"|ReplaceComparisonOperator_(Eq_NotEq|NotEq_Eq|Is_IsNot|IsNot_Is)$"
    r"|ReplaceUnaryOperator_(USub_UAdd|Delete_USub|Delete_Not)$"
    r"|AddNot$|ReplaceTrueWithFalse$|ReplaceFalseWithTrue$|ReplaceAndWithOr$|ReplaceOrWithAnd$"
    r"|ReplaceBreakWithContinue$|ReplaceContinueWithBreak$|NumberReplacer$|ZeroIterationForLoop$"
)


@dataclass(frozen=True)
class Mutant:
    """One change in one place."""

    path: Path
    operator: str
    occurrence: int
    line: int
    was: str

    @property
    def key(self) -> str:
        """What the mutant is called in the list of those that change nothing: it stays while the line does."""
        mark = hashlib.sha256(f"{self.path}{self.operator}{self.was}".encode()).hexdigest()[:10]
        return f"{self.path} {self.operator.split('/')[-1]} {mark}"

    @property
    def package(self) -> str:
        """The core's package whose tests are tried first."""
        parts = self.path.parts
        return f"drying.{parts[1]}" if len(parts) > 2 else "drying"


def specs(paths: list[Path]) -> list[MutationSpec]:
    """Every change that could be made in these files."""
    with use_db(":memory:") as database:
        cosmic_ray.commands.init(paths, database, {})
        return [spec for item in database.work_items for spec in item.mutations]


def drawn(count: int, seed: int) -> list[Mutant]:
    """A sample of places, each with one of the changes that it allows."""
    paths = [p.relative_to(ROOT) for p in sorted(ROOT.glob("drying/**/*.py")) if "tests" not in p.parts]
    lines = {path: (ROOT / path).read_text().splitlines() for path in paths}
    places: dict[tuple[Path, tuple[int, int]], list[MutationSpec]] = {}
    for spec in specs(paths):
        path = Path(spec.module_path)
        # That a record is frozen keeps others from changing it; no test of an answer can tell.
        is_record = lines[path][spec.start_pos[0] - 1].lstrip().startswith("@dataclass")
        if SLIPS.search(spec.operator_name) and not is_record:
            places.setdefault((path, spec.start_pos), []).append(spec)
    chance = random.Random(seed)
    chosen = chance.sample(sorted(places), min(count, len(places)))
    mutants = []
    for place in chosen:
        spec = chance.choice(places[place])
        was = lines[place[0]][spec.start_pos[0] - 1].strip()
        mutants.append(Mutant(place[0], spec.operator_name, spec.occurrence, spec.start_pos[0], was))
    return mutants


def nearest(path: Path) -> list[str]:
    """Labels of the tests that name most of what stands in a file: the soonest to notice a change in it."""
    found = re.findall(r"^(?:def|class) (\w+)|^([A-Z]\w+)\b.* = ", (ROOT / path).read_text(), re.MULTILINE)
    names = {name for pair in found for name in pair if name}
    tests = [(p, set(re.findall(r"\w+", p.read_text()))) for p in sorted(ROOT.glob("drying/**/tests/test_*.py"))]
    named = sorted(((len(words & names), p) for p, words in tests if words & names), key=lambda it: -it[0])
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for _, p in named[:NEAREST]]


def standing_on(package: str) -> list[str]:
    """The core's packages that import a package, straight or through others: their tests may notice it too."""
    if package == "drying":
        return []
    packages = {f"drying.{p.parent.name}": p.parent for p in ROOT.glob("drying/*/__init__.py")}
    imports = {
        name: set(re.findall(r"from (drying\.\w+)", "".join(p.read_text() for p in folder.glob("*.py"))))
        for name, folder in packages.items()
    }
    found: set[str] = set()
    while more := {name for name, needs in imports.items() if needs & {package, *found}} - found:
        found |= more
    return sorted((found & set(packages)) - {package})


def red(folder: Path, *labels: str) -> bool:
    """Whether the tests of some labels fail in a copy of the checkout; tests that never end count as red."""
    words = [str(BIN / "python"), "manage.py", "test", *labels, "--failfast"]
    try:
        done = subprocess.run(words, cwd=folder, capture_output=True, check=False, timeout=WAIT_S)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def killed(mutant: Mutant, folder: Path) -> bool:
    """Whether some test of the core notices the mutant."""
    path = folder / mutant.path
    code = path.read_text()
    changed = mutate_code(code, get_operator(mutant.operator)(), mutant.occurrence)
    if changed is None:
        raise ValueError(f"{mutant.key} changes nothing at all.")
    path.write_text(changed)
    try:
        near, above = nearest(mutant.path), standing_on(mutant.package)
        return any(red(folder, *labels) for labels in (near, [mutant.package], above) if labels)
    finally:
        path.write_text(code)


def copies(count: int) -> Queue[Path]:
    """Copies of what the core's tests need."""
    folders: Queue[Path] = Queue()
    for index in range(count):
        folder = VAR / f"mutants/{index}"
        shutil.rmtree(folder, ignore_errors=True)
        for name in ("drying", "gcode", "darre", "standins", "docs", "tools"):
            shutil.copytree(ROOT / name, folder / name, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
        for name in ("manage.py", "pyproject.toml", "README.md"):
            shutil.copy(ROOT / name, folder / name)
        (folder / "var").mkdir()
        folders.put(folder)
    return folders


def main() -> int:
    same = {line.split(" #")[0] for line in SAME.read_text().splitlines() if line and not line.startswith("#")}
    mutants = [m for m in drawn(SAMPLE + len(same), SEED) if m.key not in same][:SAMPLE]
    workers = os.cpu_count() or 1
    folders = copies(workers)
    if red(folders.queue[0], "drying"):
        say("The core's tests fail as it stands, so they can notice nothing. Mend them first: make test only=drying")
        return 1

    def tried(mutant: Mutant) -> bool:
        folder = folders.get()
        try:
            return killed(mutant, folder)
        finally:
            folders.put(folder)

    alive = []
    with ThreadPoolExecutor(workers) as pool:
        for number, (mutant, dead) in enumerate(zip(mutants, pool.map(tried, mutants), strict=True), 1):
            if not dead:
                alive.append(mutant)
                say(f"survived: {mutant.path}:{mutant.line} {mutant.key.split()[1]}: {mutant.was}")
            if number % 20 == 0:
                say(f"{number} of {len(mutants)} tried, {len(alive)} alive")
    share = 1 - len(alive) / len(mutants)
    say(f"{len(mutants) - len(alive)} of {len(mutants)} mutants were noticed ({share:.0%}); {LEAST:.0%} is asked.")
    for mutant in alive:
        print(mutant.key)
    return 0 if share >= LEAST else 1


if __name__ == "__main__":
    sys.exit(main())
