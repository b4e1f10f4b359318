"""Which test files a change can reach: by imports in the core, by layers behind the application."""

from __future__ import annotations

import ast
import subprocess
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[1]
LAYERS = {
    "src/kalon/api/": ["tests/api"], "src/kalon/store/": ["tests/api"], "src/kalon/host/": ["tests/api"],
    "src/kalon/commands/": ["tests/api"],     "src/kalon/demo/": ["tests/api", "tests/browser"], "web/": ["web", "tests/browser"], "tests/web/": ["web"],
}  # fmt: skip
"""What runs in a process of its own: its tests can't be told by their imports."""
EVERYTHING = ("pyproject.toml", "requirements", "kalon", "tests/conftest.py", "tests/running.py")


def changed_files() -> list[str]:
    """Files that differ from the last commit, and new ones."""
    asked = ("git", "diff", "--name-only", "HEAD"), ("git", "ls-files", "--others", "--exclude-standard")
    told = [subprocess.run(a, cwd=ROOT, capture_output=True, text=True, check=True).stdout for a in asked]
    return sorted({line for text in told for line in text.splitlines()})


def _imports(file: Path) -> set[str]:
    """Every module a file of tests names in an import, `from` ones with what they take."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return found


def _of_tests() -> dict[str, set[str]]:
    """Each Python file below `tests` as a module, and all it imports, through other files of tests too."""
    files = {".".join(f.relative_to(ROOT).with_suffix("").parts): f for f in (ROOT / "tests").rglob("*.py")}
    found = {name: _imports(file) for name, file in files.items()}
    while True:
        more = {n: i | {m for t in i & found.keys() for m in found[t]} for n, i in found.items()}
        if more == found:
            return found
        found = more


def reached(changed: list[str]) -> list[str]:
    """The test files and folders to run for these files, `web` for the interface's unit tests."""
    if any(c == name or (c.startswith(name) and "/" not in c) for c in changed for name in EVERYTHING):
        return ["web", "tests"]
    where: set[str] = {w for c in changed for place, tests in LAYERS.items() if c.startswith(place) for w in tests}
    graph = grimp.build_graph("kalon")
    modules: set[str] = set()
    for file in (c for c in changed if c.startswith("src/") and c.endswith(".py")):
        module = ".".join(Path(file).relative_to("src").with_suffix("").parts).removesuffix(".__init__")
        if module in graph.modules:
            modules |= {module, *graph.find_downstream_modules(module)}
    modules |= {
        ".".join(Path(c).with_suffix("").parts) for c in changed if c.startswith("tests/") and c.endswith(".py")
    }
    for name, imports in _of_tests().items():
        file = name.replace(".", "/") + ".py"
        if not Path(file).name.startswith("test_"):
            continue
        direct = name in modules
        if direct or (file.startswith(("tests/core/", "tests/files/", "tests/outside/")) and imports & modules):
            where.add(file)
    folders = {w for w in where if not w.endswith(".py")}
    return sorted(w for w in where if w in folders or not any(w.startswith(f"{f}/") for f in folders))
