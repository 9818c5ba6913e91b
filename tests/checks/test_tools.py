"""Linters, type checkers, the layers' arrows, the API's schema: each is a test."""

import ast
import json
import subprocess
import sys
import unittest
from io import StringIO
from pathlib import Path

from django.core.management import call_command

ROOT = Path(__file__).resolve().parent.parent.parent
BIN = Path(sys.executable).parent


class ToolsTest(unittest.TestCase):
    def check(self, *command: str, folder: Path = ROOT) -> None:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, f"\n{done.stdout[-4000:]}\n{done.stderr[-2000:]}")

    def test_ruff_finds_nothing(self):
        self.check(str(BIN / "ruff"), "check", "--no-cache", ".")

    def test_code_is_formatted(self):
        self.check(str(BIN / "ruff"), "format", "--no-cache", "--check", "palinode", "bench", "tests", "demo")

    def test_types_are_strict(self):
        self.check(str(BIN / "mypy"))

    def test_imports_point_one_way(self):
        self.check(str(BIN / "lint-imports"), "--no-cache")

    def test_what_runs_in_reading_processes_needs_no_django_set_up(self):
        work = ("record_location", "standalone_page", "region", "read_pages", "read_robots", "capturing.extraction")
        work += ("importing.containers", "importing.streams", "importing.archive_process")
        names = [f"palinode.work.{one}" for one in work] + ["palinode.gather.lists", "palinode.gather.host_probe"]
        self.check(sys.executable, "-c", f"import {', '.join([*names, 'palinode.core.sample'])}")

    def test_typescript_compiles(self):
        self.check("npx", "tsc", "--noEmit", folder=ROOT / "web")

    def test_eslint_finds_nothing(self):
        self.check("npx", "eslint", "src", folder=ROOT / "web")

    def test_schema_and_types_are_those_of_the_code(self):
        schema = StringIO()
        call_command("spectacular", "--format", "openapi-json", "--validate", "--fail-on-warn", stdout=schema)
        kept = json.loads((ROOT / "web" / "openapi.json").read_text())
        self.assertEqual(json.loads(schema.getvalue()), kept, "run: bin/types")
        done = subprocess.run(
            ["npx", "openapi-typescript", "openapi.json"], cwd=ROOT / "web", capture_output=True, text=True
        )
        self.assertEqual(done.stdout.strip(), (ROOT / "web/src/api/schema.d.ts").read_text().strip(), "run: bin/types")

    def test_migrations_are_those_of_the_models(self):
        call_command("makemigrations", "records", "--check", "--dry-run", verbosity=0)

    def test_every_cause_stands_in_its_document_as_its_file_says_it(self):
        told = (ROOT / "docs" / "causes.md").read_text()
        for file in sorted((ROOT / "palinode" / "core" / "causes").glob("*.py")):
            if file.name not in ("__init__.py", "cause.py", "cause_kind.py", "comparison_context.py", "texts.py"):
                sentence = (ast.get_docstring(ast.parse(file.read_text())) or "").split("\n\n")[0]
                self.assertIn(f"| `{file.name}` | {sentence} |", told)

    def test_no_lock_file_names_a_registry(self):
        words = ("registry." + "npmjs", "python" + "hosted", "pypi" + ".org")
        for name in ("requirements.txt", "requirements-test.txt", "web/package-lock.json"):
            text = (ROOT / name).read_text()
            for word in words:
                self.assertNotIn(word, text, name)
