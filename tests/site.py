"""A small web server on loopback for tests, in a thread; it notes what it was asked."""

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from aiohttp import web

from tests.served import Served


@dataclass
class Answer:
    body: str | bytes = ""
    status: int = 200
    headers: dict[str, str] = field(default_factory=dict)
    delay: float = 0

    def altered(self, *changes: tuple[str, str]) -> "Answer":
        """Return the answer with some texts of its body in the place of others."""
        body = self.body
        for old, new in changes:
            body = body.replace(old, new)
        return replace(self, body=body)


def page(title: str, *links: str, text: str = "", head: str = "") -> Answer:
    """Return an HTML page with links in its main content."""
    anchors = " ".join(f'<a href="{link}">{link}</a>' for link in links)
    markup = f"<!doctype html><html lang=en><head><title>{title}</title>{head}</head>"
    return Answer(f"{markup}<body><main><h1>{title}</h1><p>{text or title} {anchors}</p></main></body></html>")


class Site(Served):
    """Serves a dictionary of paths (with query), or what a function makes of a path."""

    def __init__(self, pages: dict[str, Answer] | Callable[[str], Answer | None]) -> None:
        super().__init__()
        self.find = pages.get if isinstance(pages, dict) else pages
        self.asked: list[str] = []
        self.headers: list[dict[str, str]] = []
        self.at_once = self.most_at_once = 0

    async def start(self) -> int:
        """Listen; return the port."""
        self._runner = web.ServerRunner(web.Server(self._answer))
        await self._runner.setup()
        site = web.TCPSite(self._runner, "127.0.0.1", 0)
        await site.start()
        return site._server.sockets[0].getsockname()[1]

    async def stop(self) -> None:
        """Close connections."""
        await self._runner.cleanup()

    async def _answer(self, request: web.BaseRequest) -> web.StreamResponse:
        self.asked.append(request.path_qs)
        self.headers.append(dict(request.headers))
        self.at_once += 1
        self.most_at_once = max(self.most_at_once, self.at_once)
        try:
            found = self.find(request.path_qs)
            if found is None:
                return web.Response(status=404, text="<title>Not here</title>", content_type="text/html")
            if found.delay:
                await asyncio.sleep(found.delay)
            body = found.body.encode() if isinstance(found.body, str) else found.body
            headers = {"Content-Type": "text/html; charset=utf-8"} | found.headers
            tag = headers.get("ETag")
            if tag and request.headers.get("If-None-Match") == tag:
                return web.Response(status=304, headers={"ETag": tag})
            return web.Response(status=found.status, body=body, headers=headers)
        finally:
            self.at_once -= 1
