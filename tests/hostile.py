"""A host that means no good, on loopback: each path is a corner, answered byte by byte as it likes."""

import asyncio
import gzip
from collections.abc import Awaitable, Callable

from tests.served import Served

Writer = asyncio.StreamWriter
Corner = Callable[[Writer, str], Awaitable[None]]

HTML = "Content-Type: text/html; charset=utf-8"
MORE_THAN_THE_LIMIT = 50_000_000 + 70_000


def head(*fields: str, status: str = "200 OK", length: int | None = None) -> bytes:
    """Return a response's head."""
    lines = [f"HTTP/1.1 {status}", *fields, "Connection: close"]
    lines += [f"Content-Length: {length}"] if length is not None else []
    return "\r\n".join([*lines, "", ""]).encode()


def whole(body: str | bytes, *fields: str, status: str = "200 OK") -> bytes:
    """Return a whole response."""
    data = body.encode() if isinstance(body, str) else body
    return head(*(fields or (HTML,)), status=status, length=len(data)) + data


def page(title: str, text: str = "") -> str:
    """Return an ordinary page."""
    return f"<!doctype html><title>{title}</title><main><h1>{title}</h1><p>{text or title}</p></main>"


def sends(*parts: bytes) -> Corner:
    """Return a corner that sends bytes and closes."""

    async def corner(writer: Writer, _: str) -> None:
        for part in parts:
            writer.write(part)
            await writer.drain()

    return corner


def drips(first: bytes, drop: bytes, pause: float = 0.1) -> Corner:
    """Return a corner that sends one drop after another for as long as anybody listens."""

    async def corner(writer: Writer, _: str) -> None:
        writer.write(first)
        while not writer.is_closing():
            writer.write(drop)
            await writer.drain()
            await asyncio.sleep(pause)

    return corner


async def silent(writer: Writer, _: str) -> None:
    """Accept, and say nothing."""
    await asyncio.sleep(600)


async def endless(writer: Writer, _: str) -> None:
    """Send a body without end, as fast as it is taken."""
    writer.write(head(HTML, "Transfer-Encoding: chunked") + b"5\r\n<main\r\n1\r\n>\r\n")
    chunk = b"10000\r\n" + b"<p>flour" * 8192 + b"\r\n"
    while not writer.is_closing():
        writer.write(chunk)
        await writer.drain()


def moves(to: str, status: str = "302 Found") -> bytes:
    """Return a redirect, its Location as it is."""
    return whole("", HTML, f"Location: {to}", status=status)


class Passing:
    """Answers 503 or 429 so many times, then the page."""

    def __init__(self, times: int, status: str, after: str) -> None:
        self.left, self.status, self.after = times, status, after

    async def __call__(self, writer: Writer, path: str) -> None:
        self.left -= 1
        wait = whole("wait", HTML, f"Retry-After: {self.after}", status=self.status)
        writer.write(wait if self.left >= 0 else whole(page(path)))


class Hostile(Served):
    """Serves corners by path; ordinary pages for /ok/…; notes what it was asked."""

    def __init__(self, corners: dict[str, Corner], home: str) -> None:
        super().__init__()
        self.corners, self.home = corners, home
        self.asked: list[str] = []

    async def start(self) -> int:
        """Listen; return the port."""
        server = await asyncio.start_server(self._answer, "127.0.0.1", 0, limit=1 << 20)
        return server.sockets[0].getsockname()[1]

    async def _answer(self, reader: asyncio.StreamReader, writer: Writer) -> None:
        try:
            request = await reader.readuntil(b"\r\n\r\n")
            path = request.split(b" ", 2)[1].decode("latin-1")
            self.asked.append(path)
            corner = self.corners.get(path.partition("?")[0])
            if corner:
                await corner(writer, path)
            elif path == "/":
                writer.write(whole(self.home))
            elif path.startswith("/ok/"):
                writer.write(whole(page(path)))
            else:
                writer.write(whole("not here", HTML, status="404 Not Found"))
            await writer.drain()
        except (OSError, asyncio.IncompleteReadError, asyncio.LimitOverrunError, asyncio.CancelledError):
            pass
        finally:
            writer.close()


BOMB = gzip.compress(b"\0" * MORE_THAN_THE_LIMIT)
