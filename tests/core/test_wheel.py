"""The package as others install it: a wheel that has all it needs, and says what it needs of others."""

from __future__ import annotations

import ast
import os
import re
import shutil
import subprocess
import sys
import tempfile
import tomllib
from importlib.metadata import packages_distributions
from pathlib import Path
from unittest import TestCase

PROJECT = Path(__file__).parents[2]


def run(*command: str, cwd: str, **more: str) -> str:
    done = subprocess.run(
        command, cwd=cwd, env={**os.environ, **more}, capture_output=True, text=True, timeout=300, check=False
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


class Wheel(TestCase):
    def test_mellow_works_from_a_wheel_alone(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            pip = (sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check")
            # Of a copy: what is built on the way stays beside what it is made of.
            shutil.copytree(PROJECT / "mellowspine", f"{folder}/source/mellowspine")
            shutil.copy(PROJECT / "pyproject.toml", f"{folder}/source")
            run(*pip, "wheel", "--no-deps", "--wheel-dir", folder, f"{folder}/source", cwd=folder)
            (wheel,) = Path(folder).glob("mellowspine-*.whl")
            run(*pip, "install", "--no-deps", "--target", f"{folder}/installed", str(wheel), cwd=folder)
            here = {"PYTHONPATH": f"{folder}/installed"}
            where = run(sys.executable, "-c", "import mellowspine; print(mellowspine.__file__)", cwd=folder, **here)
            self.assertTrue(where.startswith(f"{folder}/installed"), where)
            Path(folder, "wall.md").write_text("# The wall\n\nWords about it.\n\n## Stones\n\nMore.\n")
            mellow = f"{folder}/installed/bin/mellow"
            outline = run(mellow, "outline", "wall.md", cwd=folder, **here)
            self.assertRegex(outline, r"The wall.*\n.*Stones")
            run(mellow, "convert", "wall.md", "wall.pdf", cwd=folder, **here)
            self.assertTrue(Path(folder, "wall.pdf").read_bytes().startswith(b"%PDF-"))

    def test_what_is_imported_is_declared(self) -> None:
        declared = tomllib.loads((PROJECT / "pyproject.toml").read_text())["project"]["dependencies"]
        names = {plain(re.match(r"[A-Za-z0-9_.-]+", one).group()) for one in declared}  # type: ignore[union-attr]
        where = packages_distributions()
        for path in (PROJECT / "mellowspine").rglob("*.py"):
            for module in imported(path):
                if module not in sys.stdlib_module_names and module != "mellowspine":
                    given = {plain(one) for one in where.get(module, [module])}
                    # What pydantic itself is made of comes with it.
                    self.assertTrue(given & names or module == "pydantic_core", f"{path} imports {module}")


def plain(name: str) -> str:
    """The name of a distribution as all spellings of it are compared (PEP 503)."""
    return re.sub(r"[-_.]+", "-", name).lower()


def imported(path: Path) -> set[str]:
    """The top-level modules that a module imports by their names."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found.update(alias.name.split(".")[0] for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
            found.add(node.module.split(".")[0])
    return found
