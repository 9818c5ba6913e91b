"""The simulated hosts, each on a loopback port of its own, and the control page.

``python -m demo.hosts FOLDER PORT`` serves from PORT on: old mill, new mill, old and restored
Marrow Lane, and last the control page.
"""

import asyncio
import hashlib
import re
import sys
import time
from collections.abc import Awaitable, Callable
from html import escape
from pathlib import Path

from aiohttp import web

from demo import behind, damage, marrow, mill
from demo.faults import FAULTS, Faults
from demo.pages import Page, Template, show

_BEHIND: dict[str, tuple[str, Callable[[Faults], bytes]]] = {
    "/behind/old.sql": ("tidemill.sql", lambda faults: behind.dump(False, faults)),
    "/behind/new.sql": ("quillhavenmill.sql", lambda faults: behind.dump(True, faults)),
    "/behind/old.xml": ("tidemill-export.xml", lambda _: behind.export()),
    "/behind/old.txt": ("tidemill-files.txt", lambda faults: behind.files(False, faults)),
    "/behind/new.txt": ("quillhavenmill-files.txt", lambda faults: behind.files(True, faults)),
}
"""Path on the control page to the name of a file, and what makes it."""
HOSTS = ("old mill", "new mill", "old Marrow Lane", "restored Marrow Lane", "control page")
Answer = Callable[[web.Request], Awaitable[web.StreamResponse]]
_STYLE = "body { font: 1rem/1.5 serif; max-width: 40rem; margin: auto; } img { width: 100%; }"


def _page(page: Page, template: Template) -> web.Response:
    body = page.body or show(page, template)
    return web.Response(body=body, headers={"Content-Type": page.media_type})


def _file(path: str) -> web.Response | None:
    if path == "/style/mill.css":
        return web.Response(text=_STYLE, content_type="text/css")
    if found := re.fullmatch(r"/images/([\w-]+)\.svg", path):
        hue = sum(found[1].encode()) * 37 % 360
        picture = (
            '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 48">'
            f'<rect width="64" height="48" fill="hsl({hue} 30% 80%)"/><circle cx="32" cy="24" r="14" fill="none" stroke="#333"/></svg>'
        )
        return web.Response(text=picture, content_type="image/svg+xml")
    return None


def _not_found(template: Template, status: int = 404) -> web.Response:
    page = Page("/404", "Nothing here", "<p>This page is not at the mill. Perhaps the tide took it.</p>")
    return web.Response(status=status, body=show(page, template), content_type="text/html")


def _sitemap(origin: str, paths: list[str]) -> web.Response:
    entries = "".join(
        f"<url><loc>{escape(origin + path)}</loc><lastmod>{_changed(path)}</lastmod></url>" for path in paths
    )
    text = f'<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{entries}</urlset>'
    return web.Response(text=text, content_type="application/xml")


def _changed(path: str) -> str:
    """Return the day on which a page was last changed: that of its year and month, where its path has them."""
    said = re.search(r"/(20\d\d)/(\d\d)\b", path)
    return f"{said[1]}-{said[2]}-28" if said and int(said[2]) <= 12 else "2026-03-02"


def _robots(origin: str, shut_out: str = "/cellar/") -> web.Response:
    return web.Response(
        text=f"User-agent: *\nDisallow: {shut_out}\nSitemap: {origin}/sitemap.xml\n", content_type="text/plain"
    )


def _plain_site(
    site: dict[str, Page], template: Template, change: Callable[[Page], Page] = lambda page: page
) -> Answer:
    """Return a host that serves a site as it is, each page perhaps changed."""

    async def answer(request: web.Request) -> web.StreamResponse:
        path = request.path
        if path == "/robots.txt":
            return _robots(template.origin)
        if path == "/sitemap.xml":
            return _sitemap(template.origin, list(site))
        if path in site:
            return _page(change(site[path]), template)
        if path.endswith("/") and path.rstrip("/") in site:
            return web.Response(status=301, headers={"Location": path.rstrip("/")})
        return _file(path) or _not_found(template)

    return answer


def new_mill(faults: Faults) -> Answer:
    """Return the new mill's host, which has the faults that are set."""
    site = mill.site(new=True)

    async def answer(request: web.Request) -> web.StreamResponse:
        path = request.path
        template = mill.template(new=True, noindex="noindex" in faults)
        if path == "/robots.txt":
            named = f"http://{mill.OLD}" if "sitemap" in faults else template.origin
            return _robots(named, "/" if "staging" in faults else "/cellar/")
        if path == "/sitemap.xml":
            sample = ["/hello-world"] if "sample" in faults else []
            return _sitemap(template.origin, [one for one in site if not _missing(one, faults)] + sample)
        if shop := re.fullmatch(r"/shop(/.*)?", path):
            return _redirect(shop[1] or "", faults, template)
        if "busy" in faults and path.startswith("/people"):
            return web.Response(status=503, text="Busy", headers={"Retry-After": "1"})
        if notice := _notice(path, faults):
            return notice
        if path == "/hello-world" and "sample" in faults:
            return _page(
                Page(path, "Hello world", "<p>This is your first post. Edit it or take it away.</p>"), template
            )
        if "slash" in faults and path != "/" and path.rstrip("/") in site:
            path = path.rstrip("/")
        if path in site and not _missing(path, faults):
            cached = (
                "cache" in faults and path.startswith("/visit") and request.headers.get("Cache-Control") != "no-cache"
            )
            response = _page(_cached(_stamped(_hours(site[path], faults), faults), cached), template)
            if not site[path].body and isinstance(response.body, bytes):
                response.body = damage.done(path, response.body, faults)
            if cached:
                response.headers.update({"Age": "5400", "Cache-Control": "max-age=86400"})
            return response
        if path != "/" and path.endswith("/") and path.rstrip("/") in site:
            return web.Response(status=301, headers={"Location": path.rstrip("/")})
        if not (path.startswith("/style/") and "style" in faults) and (file := _file(path)):
            return file
        if "home" in faults:
            return web.Response(status=302, headers={"Location": "/"})
        return _not_found(template, 200 if "soft" in faults else 404)

    return answer


def _notice(path: str, faults: Faults) -> web.Response | None:
    """Return what answers in place of a page while a fault is set that the status does not tell."""
    if "maintenance" in faults and path.startswith("/recipes"):
        said = "<h1>Back at the next tide</h1><p>We are performing scheduled maintenance of this website.</p>"
        return web.Response(text=f"<title>Quillhaven Tide Mill</title>{said}", content_type="text/html")
    if "database" in faults and path.startswith("/store"):
        said = "<h1>Error establishing a database connection</h1>"
        return web.Response(text=f"<title>Database error</title>{said}", content_type="text/html")
    return None


def _missing(path: str, faults: Faults) -> bool:
    if "inner" in faults and path != "/":
        return True
    if "home" in faults and path.startswith("/journal/2016"):
        return True
    if "events" in faults and path.startswith("/events/"):
        return True
    year = re.match(r"/tide-tables/(\d{4})/", path)
    return "tides" in faults and year is not None and int(year[1]) < 2017


def _redirect(rest: str, faults: Faults, template: Template) -> web.Response:
    if "redirects" in faults:
        if rest in ("/oatcakes", "/tide-calendar"):
            return _not_found(template)
        if rest == "/bannock-mix":
            return web.Response(status=302, headers={"Location": f"/store{rest}"})
    return web.Response(status=301, headers={"Location": f"/store{rest}"})


def _stamped(page: Page, faults: Faults) -> Page:
    if "stamp" not in faults or page.body:
        return page
    made = f"<p>Ground fresh at {time.strftime('%H:%M:%S')} in {time.perf_counter_ns() % 997} milliseconds</p>"
    return Page(page.path, page.title, page.main + made, page.description)


def _cached(page: Page, cached: bool) -> Page:
    if not cached or page.body:
        return page
    return Page(page.path, page.title, page.main + "<p>Closed yesterday for the spring tide.</p>", page.description)


def _hours(page: Page, faults: Faults) -> Page:
    if page.path != "/visit/opening-hours" or "hours" not in faults:
        return page
    main = page.main.partition("<form")[0]
    main = main.replace(" From October to March the wheel turns at weekends only, and the bakery closes at two.", "")
    main = re.sub(r"<p>Groups of more than twelve.*?</p>", "", main)
    return Page(page.path, "Opening hours – My site", main + "<p>[booking-form id=3]</p>", page.description)


def _older(faults: Faults) -> Callable[[Page], Page]:
    def change(page: Page) -> Page:
        if page.path != "/plots" or "marrow" not in faults:
            return page
        main = page.main.replace("thirty pounds", "twenty-eight pounds").replace("eleven names", "seven names")
        return Page(page.path, page.title, main, page.description)

    return change


def _with_tags(answer: Answer) -> Answer:
    """Return a host that gives each body a tag, and says 304 to whoever has that already."""

    async def tagged(request: web.Request) -> web.StreamResponse:
        response = await answer(request)
        if response.status != 200 or not isinstance(response, web.Response) or not isinstance(response.body, bytes):
            return response
        tag = f'"{hashlib.sha256(response.body).hexdigest()[:16]}"'
        if request.headers.get("If-None-Match") == tag:
            return web.Response(status=304, headers={"ETag": tag})
        response.headers["ETag"] = tag
        return response

    return tagged


def control(faults: Faults) -> Answer:
    """Return the control page."""

    async def answer(request: web.Request) -> web.StreamResponse:
        if request.method == "POST":
            if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
                return web.Response(status=403, text="Use the form on this page.")
            given = await request.post()
            faults.choose({str(name) for name in given.getall("fault", [])})
            raise web.HTTPSeeOther("/?saved")
        if path := _BEHIND.get(request.path):
            name, made = path
            headers = {"Content-Disposition": f'attachment; filename="{name}"'}
            return web.Response(body=made(faults), content_type="application/octet-stream", headers=headers)
        saved = '<p role="status"><strong>Saved.</strong></p>' if "saved" in request.query else ""
        boxes = "".join(
            f'<p><label><input type="checkbox" name="fault" value="{fault.name}"'
            f"{' checked' if fault.name in faults else ''}> {escape(fault.said)}</label></p>"
            for fault in FAULTS
        )
        links = ", ".join(f'<a href="{path}">{name}</a>' for path, (name, _) in _BEHIND.items())
        text = f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>Faults of the demo</title>
<style>body{{font:16px/1.5 sans-serif;max-width:44rem;margin:3rem auto;background:#EEF2F1;color:#12262E}}</style>
<h1>Faults of the demo</h1><p>What is ticked is wrong on the new hosts, from the next request on.
Untick something, save, and capture the destination again: its findings clear.</p>{saved}
<form method="post">{boxes}<button>Save</button></form>
<p>What stands behind the mill's hosts as it is now, to be imported in Captures: {links}.</p></html>"""
        return web.Response(text=text, content_type="text/html")

    return answer


async def serve(folder: Path, port: int) -> None:
    """Serve all hosts until the task is cancelled."""
    faults = Faults(folder / "faults.json")
    answers = [
        _with_tags(_plain_site(mill.site(new=False), mill.template(new=False))),
        _with_tags(new_mill(faults)),
        _with_tags(_plain_site(marrow.site(), marrow.TEMPLATE)),
        _with_tags(_plain_site(marrow.site(), marrow.TEMPLATE, _older(faults))),
        control(faults),
    ]
    runners = [web.ServerRunner(web.Server(answer), access_log=None, shutdown_timeout=1) for answer in answers]
    try:
        for number, runner in enumerate(runners):
            await runner.setup()
            await web.TCPSite(runner, "127.0.0.1", port + number).start()
        await asyncio.Event().wait()
    finally:
        for runner in runners:
            await runner.cleanup()


if __name__ == "__main__":
    asyncio.run(serve(Path(sys.argv[1]), int(sys.argv[2])))
