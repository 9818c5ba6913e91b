"""What a careless import does to pages: characters damaged, addresses of the old host left in them."""

from demo.faults import Faults
from demo.mill import NEW, OLD


def done(path: str, body: bytes, faults: Faults) -> bytes:
    """Return the body of a page with the damage of the faults that are set."""
    text = body.decode()
    if "characters" in faults and path.startswith("/recipes"):
        # Written as UTF-8, read as Windows-1252, written as UTF-8 again.
        text = text.encode().decode("cp1252", "replace")
    if "back" in faults and path.startswith("/people"):
        head, mark, rest = text.partition("<header>")
        text = head + mark + rest.replace('href="/', f'href="http://{OLD}/').replace(f"//{NEW}", f"//{OLD}")
    if "leftovers" in faults:
        text = text.replace("</body>", f'<script>const tides = "http://{OLD}/tide-tables";</script>\n</body>')
        if path.startswith("/journal/2018"):
            gallery = f'{{"src": "http:\\/\\/{OLD}\\/images\\/wheel.svg"}}'
            share = f"https://share.example/?u=http%3A%2F%2F{OLD}{path.replace('/', '%2F')}"
            left = f"<div data-gallery='{gallery}' data-share=\"{share}\"></div><!-- cached for {OLD} -->"
            text = text.replace("</h1>", f"</h1>{left}", 1)
    return text.encode()
