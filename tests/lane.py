"""A lane of the tests: reads labels from standard input, and answers each with how many passed and failed."""

import os
import random
import sys
import time
import traceback
import unittest
from pathlib import Path


def main() -> None:
    """Work until no label comes any more."""
    folder = Path(sys.argv[1])
    answers = os.fdopen(os.dup(1), "w")
    # What tests print goes where their failures go, so that it is no answer.
    os.dup2(2, 1)
    from palinode.project.postgres import Cluster

    cluster = Cluster(folder / "postgres", lasting=False, first_port=random.randrange(15_000, 25_000))
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
        _run(answers)
    finally:
        cluster.stop()


def _run(answers) -> None:
    import django

    django.setup()
    from django.conf import settings
    from django.test.runner import DiscoverRunner

    settings.ALLOWED_HOSTS = ["*"]
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    runner = DiscoverRunner(verbosity=0, interactive=False)
    runner.setup_test_environment()
    # The database is thrown away with the cluster.
    runner.setup_databases()
    for line in sys.stdin:
        label = line.strip()
        began = time.monotonic()
        try:
            passed, failed = _counted(runner.run_suite(runner.build_suite([label])))
        except Exception:
            # A file that cannot be loaded is one test that failed.
            traceback.print_exc()
            passed, failed = 0, 1
        print(
            f"{label}: {passed} passed, {failed} failed, {time.monotonic() - began:.0f} s", file=sys.stderr, flush=True
        )
        print(passed, failed, file=answers, flush=True)


def _counted(result: unittest.TestResult) -> tuple[int, int]:
    # A test whose parts failed in several places is one test that failed.
    wrong = [test for test, _ in result.failures + result.errors] + result.unexpectedSuccesses
    failed = len({getattr(test, "test_case", test).id() for test in wrong})
    return max(0, result.testsRun - failed - len(result.skipped)), failed


if __name__ == "__main__":
    main()
