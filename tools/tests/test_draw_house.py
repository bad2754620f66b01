"""The house keeps its shape: floors, no circles, no file or function that has outgrown its subject."""

import ast
import os
import re
import unittest
from pathlib import Path

from tools.draw_house import FIGURE, ROOT, drawing, floors, page_graph, python_graph

MOST_LINES, MOST_FUNCTION_LINES, MOST_FLOORS = 400, 44, 4
GENERATED = ("migrations", "schema.d.ts")


def sources(folder, *endings):
    for ending in endings:
        for path in sorted((ROOT / folder).rglob(f"*{ending}")):
            if not any(part in str(path) for part in (*GENERATED, "node_modules", "dist")):
                yield path


def circles(graph):
    """Groups of nodes that reach one another."""
    reach = {}
    for start in graph:
        found, left = set(), [start]
        while left:
            for other in graph.get(left.pop(), ()):
                if other not in found:
                    found.add(other)
                    left.append(other)
        reach[start] = found
    return sorted(node for node in graph if node in reach[node])


def module_graph(package):
    """Modules of a package of the core, a package within it as one, and those of the same package that each imports."""
    folder = ROOT / "drying" / package
    files = {path.stem: [path] for path in folder.glob("*.py") if path.stem != "__init__"}
    files |= {path.parent.name: sorted(path.parent.glob("*.py")) for path in folder.glob("*/__init__.py")}
    files.pop("tests", None)
    graph = {}
    for name, sources_of in files.items():
        found = set()
        for node in (node for path in sources_of for node in ast.walk(ast.parse(path.read_text("utf-8")))):
            if isinstance(node, ast.ImportFrom) and node.module:
                if node.module.startswith(f"drying.{package}."):
                    found.add(node.module.split(".")[2])
                elif node.module == f"drying.{package}":
                    found |= {alias.name for alias in node.names} & set(files)
        graph[name] = found - {name}
    return graph


def page_files():
    """Files of the page and the files that each imports."""
    source = ROOT / "web/src"
    graph = {}
    for path in sources("web/src", ".ts", ".tsx"):
        found = set()
        for target in re.findall(r'(?:from|import\() ?"(\.[^"]+)"', path.read_text("utf-8")):
            base = Path(os.path.normpath(path.parent / target))
            for ending in (".ts", ".tsx"):
                if base.with_name(base.name + ending).exists():
                    found.add(str(base.with_name(base.name + ending).relative_to(source)))
        graph[str(path.relative_to(source))] = found
    return graph


class Shape(unittest.TestCase):
    def test_the_drawing_in_the_docs_is_that_of_the_imports(self):
        self.assertEqual(FIGURE.read_text("utf-8"), drawing(), "run `make figures` and commit the drawing")

    def test_no_package_of_the_core_has_more_than_four_floors(self):
        """A package within it has floors of its own."""
        for package in python_graph("drying"):
            rooms = {path.parent.name for path in (ROOT / "drying" / package).glob("*/__init__.py")}
            graph = {one: others - rooms for one, others in module_graph(package).items() if one not in rooms}
            height = max(floors(graph).values()) + 1
            self.assertLessEqual(height, MOST_FLOORS, package)

    def test_nothing_imports_itself_through_others(self):
        for name, graph in (
            ("the core's packages", python_graph("drying")),
            ("the apps", python_graph("darre")),
            ("the page's files", page_files()),
            *((package, module_graph(package)) for package in python_graph("drying")),
        ):
            with self.subTest(name):
                self.assertEqual(circles(graph), [])

    def test_a_circle_would_be_found(self):
        self.assertEqual(circles({"a": {"b"}, "b": {"c"}, "c": {"b"}}), ["b", "c"])

    def test_a_floor_is_one_over_the_highest_below(self):
        self.assertEqual(floors({"roof": {"wall", "floor"}, "wall": {"floor"}, "floor": set()})["roof"], 2)

    def test_charts_and_domain_of_the_page_know_no_feature(self):
        features = {path.name for path in (ROOT / "web/src/features").iterdir()}
        graph = page_graph()
        for folder in ("domain", "api", "components", "charts"):
            self.assertEqual(graph[folder] & features, set(), folder)


class Size(unittest.TestCase):
    def test_no_file_is_too_long_for_one_subject(self):
        for folder in ("drying", "gcode", "darre", "standins", "tools", "e2e", "web/src"):
            for path in sources(folder, ".py", ".ts", ".tsx"):
                count = len(path.read_text("utf-8").splitlines())
                self.assertLessEqual(count, MOST_LINES, path.relative_to(ROOT))

    def test_no_function_is_too_long_to_be_read_at_once(self):
        for folder in ("drying", "gcode", "darre", "standins", "tools"):
            for path in sources(folder, ".py"):
                for node in ast.walk(ast.parse(path.read_text("utf-8"))):
                    if isinstance(node, ast.FunctionDef) and "tests" not in path.parts:
                        length = (node.end_lineno or 0) - node.lineno + 1
                        self.assertLessEqual(length, MOST_FUNCTION_LINES, f"{path.relative_to(ROOT)}: {node.name}")

    def test_the_core_keeps_no_state_at_module_level(self):
        """Names in lower case, and empty containers, would be state; caches belong to whoever simulates."""
        for path in sources("drying", ".py"):
            if "tests" in path.parts:
                continue
            for node in ast.parse(path.read_text("utf-8")).body:
                if isinstance(node, ast.Assign | ast.AnnAssign):
                    value, targets = node.value, node.targets if isinstance(node, ast.Assign) else [node.target]
                    for target in targets:
                        for name in ast.walk(target):
                            if isinstance(name, ast.Name) and name.id != "__all__":
                                self.assertRegex(name.id, r"^_?[A-Z]", f"{path}: {name.id}")
                    mutable = isinstance(value, ast.Call) and ast.unparse(value.func).split("[")[0] in (
                        "Cache", "dict", "list", "set", "deque", "defaultdict", "OrderedDict",
                    )  # fmt: skip
                    empty = isinstance(value, ast.Dict | ast.List) and not (
                        value.keys if isinstance(value, ast.Dict) else value.elts
                    )
                    self.assertFalse(mutable or empty, f"{path}: {ast.unparse(node)[:80]}")


if __name__ == "__main__":
    unittest.main()
