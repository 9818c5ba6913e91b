"""A whole capture, everything kept, against a bare fetch loop over the known addresses.

With --processor: processor seconds a page of all our processes, the database's among them, against those of the loop.
With --again: a recapture with nothing changed against the first capture, as a ratio of their times.
"""

import argparse
import asyncio
import os
import random
import resource
import statistics
import subprocess
import sys
import time
from pathlib import Path
from typing import Any, NamedTuple

from bench.common import close, database, memory_mb, processor_seconds, say, server_pid
from palinode.project.postgres import free_port
from palinode.project.run import WORKER, WORKER_ENVIRONMENT

WORDS = ["tide", "wheel", "stone", "flour", "sack", "gate", "pond", "leat", "hoist", "miller", "barley", "neap"]
CONCURRENCY = 8
EARLY = 20_000
"""Pages by which a worker has reached its size."""


def generate(folder: Path, pages: int) -> None:
    """Write the site: 27 KB a page, 100 links of which 80 stand in a menu that repeats."""
    menu = "".join(f'<li><a href="/s{n // 10}/p{n}.html">Menu entry {n}</a></li>' for n in range(80))
    draw = random.Random(7)
    for section in range(pages // 10 + 1):
        (folder / f"s{section}").mkdir(parents=True)
    for number in range(pages):
        links = [(number * 3 + step + 1) % pages for step in range(18)] + [draw.randrange(pages) for _ in range(2)]
        paragraphs = "".join(
            f"<p>{' '.join(draw.choices(WORDS, k=170))} {number} "
            f'<a href="/s{to // 10}/p{to}.html">to page {to}</a>.</p>\n'
            for to in links
        )
        text = (
            f"<!doctype html><html lang=en><head><title>Page {number}</title>"
            f'<meta name=description content="The page of number {number}"></head>'
            f"<body><nav><ul>{menu}</ul></nav><main><h1>Page {number}</h1>{paragraphs}</main></body></html>"
        )
        (folder / f"s{number // 10}" / f"p{number}.html").write_text(text)
    (folder / "index.html").write_text('<title>Home</title><main><a href="/s0/p0.html">first page</a></main>')
    say(f"{pages:,} pages of {len(text):,} bytes")


def start_nginx(folder: Path, port: int) -> subprocess.Popen[bytes]:
    """Serve the site."""
    config = folder / "nginx.conf"
    config.write_text(
        f"daemon off; worker_processes 1; pid {folder}/nginx.pid; error_log {folder}/error.log;\n"
        "events { worker_connections 256; }\n"
        f"http {{ access_log off; types {{ text/html html; }} client_body_temp_path {folder}/t1; "
        f"proxy_temp_path {folder}/t2; fastcgi_temp_path {folder}/t3; uwsgi_temp_path {folder}/t4; "
        f"scgi_temp_path {folder}/t5; keepalive_requests 100000; open_file_cache max=1000;\n"
        f"server {{ listen 127.0.0.1:{port}; root {folder}/site; }} }}\n"
    )
    user = ["-g", "user root;"] if os.geteuid() == 0 else []
    return subprocess.Popen(["/usr/sbin/nginx", "-c", str(config), *user])


BARE = """
import asyncio, sys, time, aiohttp
async def main(port, pages, concurrency):
    queue = iter(range(pages))
    async def loop(session):
        for number in queue:
            async with session.get(f"http://127.0.0.1:{port}/s{number // 10}/p{number}.html") as response:
                await response.read()
    async with aiohttp.ClientSession(connector=aiohttp.TCPConnector(limit=concurrency)) as session:
        started = time.perf_counter()
        await asyncio.gather(*(loop(session) for _ in range(concurrency)))
        print(time.perf_counter() - started)
asyncio.run(main(*map(int, sys.argv[1:])))
"""


def bare(port: int, pages: int) -> tuple[float, float]:
    """Return pages per second of the bare loop, in a process of its own, and its processor seconds a page."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    done = subprocess.run(
        [sys.executable, "-c", BARE, str(port), str(pages), str(CONCURRENCY)],
        capture_output=True,
        text=True,
        check=True,
    )
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    spent = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    return pages / float(done.stdout), spent / pages


class Ours(NamedTuple):
    """What one capture took."""

    rate: float
    """Pages a second, from its beginning to its end."""
    processor: float
    """Seconds a page."""
    peak: float
    """Megabytes of a worker."""
    capture: Any


def ours(move: Any, pages: int, workers: int, server: int, parent: Any = None) -> Ours:
    """Return what a capture took; ``server`` is the process of the database."""
    from palinode.records.models import Capture
    from palinode.work.capturing import capture_job
    from palinode.work.capturing.policy import Policy
    from palinode.work.capturing.recapture import Again, What

    environment = os.environ | WORKER_ENVIRONMENT
    processes = [
        subprocess.Popen([*WORKER, "--concurrency=2"], stderr=subprocess.DEVNULL, env=environment)
        for _ in range(workers)
    ]
    time.sleep(4)
    try:
        pids = [server, *(process.pid for process in processes)]
        started, spent = time.perf_counter(), processor_seconds(*pids)
        policy = Policy(concurrency=CONCURRENCY, workers=workers)
        capture = capture_job.begin(move, "source", policy, Again(parent, What.ALL) if parent else None)
        peak = early = 0.0
        while capture.state != Capture.State.CLOSED:
            time.sleep(0.5)
            peak = max(peak, *(memory_mb(process.pid) for process in processes))
            capture.refresh_from_db()
            if capture.asked <= EARLY:
                early = peak
        if pages > EARLY:
            say(f"peak {early:,.0f} MB to {EARLY:,} pages, {peak:,.0f} MB to the end: growth {peak / early - 1:.1%}")
        seconds, spent = time.perf_counter() - started, processor_seconds(*pids) - spent
    finally:
        for process in processes:
            process.terminate()
            process.wait()
    assert capture.complete, (capture.why, capture.limits)
    assert capture.pages == pages + 1, capture.pages
    return Ours(pages / seconds, spent / pages, peak, capture)


def again(move: Any, pages: int, runs: int, workers: int, server: int) -> None:
    """Measure recaptures against first captures, and see that no body is stored twice."""
    from palinode.records.models import Body

    first: list[float] = []
    second: list[float] = []
    peaks: list[float] = []
    for run in range(runs):
        rate, _, _, capture = ours(move, pages, workers, server)
        bodies = Body.objects.count()
        rate_again, _, peak, later = ours(move, pages, workers, server, capture)
        assert later.unchanged == pages + 1, later.unchanged
        assert Body.objects.count() == bodies, "a body was stored twice"
        first.append(1 / rate)
        second.append(1 / rate_again)
        peaks.append(peak)
        say(f"run {run + 1}: first {rate:,.0f} pages/s, again {rate_again:,.0f} pages/s, peak {peak:,.0f} MB")
    close("recapture", second, first, "max=0.5", max(peaks))


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/capture", description=__doc__)
    parser.add_argument("--pages", type=int, default=20_000)
    parser.add_argument("--runs", type=int, default=3)
    parser.add_argument("--workers", type=int, default=1)
    parser.add_argument("--again", action="store_true")
    parser.add_argument("--processor", action="store_true")
    options = parser.parse_args()
    with database() as folder:
        site = folder / "site"
        generate(site, options.pages)
        port = free_port(8090)
        os.environ["PALINODE_ALLOW_NETWORKS"] = f"127.0.0.1/32:{port}"
        nginx = start_nginx(folder, port)
        try:
            asyncio.run(asyncio.sleep(1))
            from django.contrib.auth.models import User

            from palinode.work import move_setup

            base = "http://mill.example/"
            sides = [move_setup.typed_side(base, f"127.0.0.1:{port}")] * 2
            move = move_setup.describe("Bench", *sides, [], User.objects.create_user("bench"))
            if options.again:
                again(move, options.pages, options.runs, options.workers, server_pid(folder))
            rates: list[float] = []
            yardsticks: list[float] = []
            spent: list[float] = []
            spent_bare: list[float] = []
            peaks: list[float] = []
            for run in range(options.runs):
                # Before and after, since the machine is not alone and its speed changes.
                before = bare(port, options.pages)
                rate, processor, peak, _ = ours(move, options.pages, options.workers, server_pid(folder))
                after = bare(port, options.pages)
                yardsticks.append((before[0] + after[0]) / 2)
                spent_bare.append((before[1] + after[1]) / 2)
                rates.append(rate)
                spent.append(processor)
                peaks.append(peak)
                say(f"run {run + 1}: bare {yardsticks[-1]:,.0f} pages/s, ours {rate:,.0f} pages/s, peak {peak:,.0f} MB")
                say(f"processor: bare {spent_bare[-1] * 1000:.2f} ms a page, ours {processor * 1000:.2f} ms")
        finally:
            nginx.terminate()
            nginx.wait()
    say(f"medians: bare {statistics.median(yardsticks):,.0f}, ours {statistics.median(rates):,.0f} pages/s")
    if options.processor:
        close("capture-processor", spent, spent_bare, "max=15", max(peaks))
    close("capture", rates, yardsticks, "min=0.05", max(peaks))


if __name__ == "__main__":
    main()
