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
    return text.encode()
