"""Runs the tests on a private PostgreSQL that is thrown away, and counts them on the last line."""

import os
import shutil
import sys
import tempfile
import unittest
from pathlib import Path

PARTS = ("checks", "core", "gather", "records", "work", "api", "browser")
QUICK = ("core", "gather", "records", "api")


def main() -> None:
    """Run all parts, or those that are named."""
    named = sys.argv[1:]
    parts = QUICK if named == ["quick"] else tuple(named) or PARTS
    folder = Path(tempfile.mkdtemp(prefix="palinode-test-"))
    folder.chmod(0o755)
    from palinode.project.postgres import Cluster

    cluster = Cluster(folder / "postgres", lasting=False)
    try:
        cluster.start()
        os.environ |= {
            "DJANGO_SETTINGS_MODULE": "palinode.project.settings",
            "PALINODE_DATABASE": cluster.url,
            "PALINODE_DATA": str(folder / "data"),
            "PALINODE_SIGN_IN_RATE": "1000/min",
            "PALINODE_SEAL_SECONDS": "0.4",
            "PALINODE_LEASE_SECONDS": "2",
            "PALINODE_READERS": "1",
            "PALINODE_LOG": "ERROR",
        }
        passed, failed = _run([part if "." in part else f"tests.{part}" for part in parts])
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)
    print(f"{passed} passed, {failed} failed", flush=True)
    sys.exit(1 if failed or not passed else 0)


def _run(labels: list[str]) -> tuple[int, int]:
    import django

    django.setup()
    from django.conf import settings
    from django.test.runner import DiscoverRunner

    settings.ALLOWED_HOSTS = ["*"]
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    class Runner(DiscoverRunner):
        def run_suite(self, suite: unittest.TestSuite, **kwargs: object) -> unittest.TestResult:
            self.counted = super().run_suite(suite, **kwargs)
            return self.counted

        def teardown_databases(self, old_config: object, **kwargs: object) -> None:
            """Leave them: the whole cluster is thrown away."""

    runner = Runner(verbosity=1, interactive=False)
    runner.run_tests(labels)
    result = runner.counted
    # A test whose parts failed in several places is one test that failed.
    wrong = [test for test, _ in result.failures + result.errors] + result.unexpectedSuccesses
    failed = len({getattr(test, "test_case", test).id() for test in wrong})
    return max(0, result.testsRun - failed - len(result.skipped)), failed


if __name__ == "__main__":
    main()
