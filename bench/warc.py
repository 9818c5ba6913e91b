"""WARC records with digests, headers and index against ``gzip -1``; read back and checked against ``gunzip``."""

import argparse
import hashlib
import io
import random
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.common import say
from palinode.core import page
from palinode.gather.exchange import Exchange
from palinode.gather.warc import check, record

WORDS = ["tide", "wheel", "stone", "flour", "sack", "gate", "pond", "leat", "hoist", "miller", "barley", "neap"]
HEAD = b"HTTP/1.1 200 OK\r\nServer: nginx\r\nContent-Type: text/html; charset=utf-8\r\nContent-Length: %d\r\n\r\n"
LEAST = 0.5


def exchanges(number: int) -> list[Exchange]:
    """Return exchanges with pages of about 25 KB that differ from each other."""
    draw = random.Random(7)
    made = []
    for one in range(number):
        paragraphs = "".join(
            f'<p>{" ".join(draw.choices(WORDS, k=170))} <a href="/s/p{draw.randrange(9999)}.html">on</a></p>\n'
            for _ in range(22)
        )
        body = f"<!doctype html><title>Page {one}</title><main><h1>Page {one}</h1>{paragraphs}</main>".encode()
        address = f"http://mill.example/s{one // 10}/p{one}.html"
        request = f"GET /s{one // 10}/p{one}.html HTTP/1.1\r\nHost: mill.example\r\nUser-Agent: bench\r\n\r\n".encode()
        head = HEAD % len(body)
        made.append(Exchange(address, 1_790_000_000.0 + one, 3, 200, "", request, head, {}, body, "203.0.113.8"))
    return made


def write(made: list[Exchange], path: Path) -> float:
    """Write a segment as captures do, with the index and the digest of the file; return the seconds."""
    started = time.perf_counter()
    data = bytearray(record.info("bench", path.name))
    index: list[tuple[str, int, bytes]] = []
    for one in made:
        packed, _ = record.records(one, None)
        index.append((one.address, len(data), page.body_digest(one.body)))
        data += packed
    hashlib.sha256(data).hexdigest()
    path.write_bytes(data)
    assert len(index) == len(made)
    return time.perf_counter() - started


def read(path: Path, number: int) -> float:
    """Read a segment back and check all digests; return the seconds."""
    started = time.perf_counter()
    data = path.read_bytes()
    hashlib.sha256(data).hexdigest()
    found = check.check(io.BytesIO(data))
    seconds = time.perf_counter() - started
    assert found.records == 2 * number + 1 and not found.faults, found
    return seconds


def command(*words: str) -> float:
    """Run a command that writes to nowhere; return the seconds."""
    started = time.perf_counter()
    subprocess.run(words, stdout=subprocess.DEVNULL, check=True, env={"LC_ALL": "C", "PATH": "/usr/bin:/bin"})
    return time.perf_counter() - started


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/warc", description=__doc__)
    parser.add_argument("--pages", type=int, default=8_000)
    parser.add_argument("--runs", type=int, default=5)
    options = parser.parse_args()
    made = exchanges(options.pages)
    with tempfile.TemporaryDirectory() as folder:
        plain, packed, segment = (Path(folder) / name for name in ("plain", "packed.gz", "segment.warc.gz"))
        plain.write_bytes(b"".join(one.request_head + one.response_head + one.body for one in made))
        say(f"{options.pages:,} pages, {plain.stat().st_size / 1e6:,.0f} MB")
        writes: list[float] = []
        reads: list[float] = []
        for run in range(options.runs):
            gzip, ours = command("gzip", "-1", "-c", str(plain)), write(made, segment)
            packed.write_bytes(subprocess.run(["gzip", "-1", "-c", str(plain)], capture_output=True, check=True).stdout)
            gunzip, back = command("gunzip", "-c", str(packed)), read(segment, options.pages)
            writes.append(gzip / ours)
            reads.append(gunzip / back)
            say(f"run {run + 1}: gzip {gzip:.2f} s, ours {ours:.2f} s; gunzip {gunzip:.2f} s, ours {back:.2f} s")
    ratios = {"warc-write": statistics.median(writes), "warc-read": statistics.median(reads)}
    for name, ratio in ratios.items():
        print(f"{name} ratio={ratio:.3f} min={LEAST}")
    sys.exit(0 if min(ratios.values()) >= LEAST else 1)


if __name__ == "__main__":
    main()
