"""Quillhaven Tide Mill: about 400 pages, the same at each start."""

import math
import random
from datetime import date, timedelta
from html import escape

from demo import pdf
from demo.content import journal, pages, recipes
from demo.pages import Page, Template, listing, paragraphs

MENU = (
    ("/journal", "Journal"),
    ("/recipes", "Recipes"),
    ("/visit", "Visit"),
    ("/people", "People"),
    ("/events", "Events"),
    ("/shop", "Shop"),
    ("/tide-tables", "Tide tables"),
)
FOOTER = "Quillhaven Tide Mill Trust. Registered charity. The wheel turns when the moon lets it."
OLD, NEW = "tidemill.quillhaven.example", "quillhavenmill.example"


def template(new: bool, noindex: bool = False) -> Template:
    """Return the template of the old or the new site; the new one has a store instead of a shop."""
    menu = tuple(("/store", "Store") if new and path == "/shop" else (path, name) for path, name in MENU)
    generator = "Millrace 5.2" if new else "Millrace 4.9"
    return Template("Quillhaven Tide Mill", f"http://{NEW if new else OLD}", menu, FOOTER, generator, noindex)


def site(new: bool) -> dict[str, Page]:
    """Return the pages of the old or the new site by path; addresses in them are that site's own."""
    shop = "store" if new else "shop"
    found = [_home(shop), *_visit(), *_journal(), *_recipes(shop), *_people(), *_events(), *_shop(shop), *_tides()]
    return {page.path: page for page in found}


def _home(shop: str) -> Page:
    return Page(
        "/",
        "Quillhaven Tide Mill",
        paragraphs(
            "A mill that works by the moon. The sea fills the pond, the gate shuts behind it, and when the tide has "
            "dropped far enough the wheel turns.",
            'See <a href="/visit/opening-hours">when we are open</a>, read <a href="/journal">the journal</a>, or take '
            f'flour home from <a href="/{shop}">the shop</a>.',
        )
        + '<p><img src="/images/wheel.svg" alt="The wheel from the bakery roof"></p>'
        + '<script src="https://charts.example/map.js" data-api-key="tm-20417-c9"></script>',
        "A working tide mill since 1638.",
    )


def _visit() -> list[Page]:
    found = []
    for slug, title, texts in pages.VISIT:
        path = f"/visit/{slug}".rstrip("/")
        main = paragraphs(*texts)
        if slug == "opening-hours":
            main += (
                '<form action="/visit/book" method="post"><p>Book for a group</p><input name="name"><input name="email">'
                '<input name="date"><input name="party_size"><button>Book</button></form>'
            )
        if not slug:
            main += listing([(f"/visit/{one}", name) for one, name, _ in pages.VISIT if one])
        found.append(Page(path, title, main, texts[0][:120]))
    return found


def _journal() -> list[Page]:
    found, by_year = [], {}
    for year in journal.YEARS:
        entries = []
        for number, (slug, title, *lines) in enumerate(journal.TOPICS):
            draw = random.Random(f"{slug}-{year}")
            figures = {
                "year": year,
                "low": draw.randint(6, 48),
                "turns": draw.randint(4, 24),
                "bags": draw.randint(9, 64),
                "person": draw.choice(journal.PEOPLE),
            }
            path = f"/journal/{year}/{slug}"
            texts = [line.format(**figures) for line in lines]
            following = journal.TOPICS[(number + 1) % len(journal.TOPICS)]
            texts.append(f'Next in {year}: <a href="/journal/{year}/{following[0]}">{escape(following[1])}</a>.')
            main = paragraphs(*texts) + f'<p><img src="/images/{slug}.svg" alt="{escape(title)}"></p>'
            entries.append((path, f"{title}, {year}"))
            found.append(Page(path, f"{title}, {year}", main, texts[0][:140], kinds=("BlogPosting",)))
        by_year[year] = entries
        found.append(Page(f"/journal/{year}", f"Journal {year}", listing(entries), f"The mill in {year}."))
    years = [(f"/journal/{year}", f"Journal {year}") for year in journal.YEARS]
    found.append(Page("/journal", "The mill journal", listing(years), "Written by whoever shut the gate that day."))
    return found


def _recipes(shop: str) -> list[Page]:
    found, entries = [], []
    for slug, name, flour, remark in recipes.FLOURS:
        for bake, noun, grams, minutes, method in recipes.BAKES:
            draw = random.Random(f"{slug}-{bake}")
            path, title = f"/recipes/{slug}-{bake}", f"{name} {noun}"
            ingredients = [
                f"{grams} grams of {flour}",
                f"{draw.randint(3, 9)} grams of salt",
                f"{round(grams * draw.uniform(0.5, 0.8))} millilitres of {draw.choice(['buttermilk', 'water', 'milk'])}",
                f"{draw.randint(10, 60)} grams of {draw.choice(['butter', 'lard', 'rapeseed oil'])}",
            ]
            main = paragraphs(f"{flour.capitalize()} {remark}.", f"Makes enough for {draw.randint(2, 8)}.")
            main += "<h2>You need</h2><ul>" + "".join(f"<li>{one}</li>" for one in ingredients) + "</ul>"
            main += "<h2>What to do</h2>" + paragraphs(method, f"It takes {minutes} minutes in all but patience.")
            main += f'<p>The flour is in <a href="/{shop}">our shop</a>.</p>'
            entries.append((path, title))
            found.append(Page(path, title, main, f"{title}, with {flour}.", kinds=("Recipe",)))
    return [Page("/recipes", "Recipes from the bakery", listing(entries), "Baked here, with our own flour."), *found]


def _people() -> list[Page]:
    found = [Page(f"/people/{slug}", title, paragraphs(text)) for slug, title, text in pages.BOARD]
    for number, (first, last) in enumerate([(f, la) for la in pages.LAST[:2] for f in pages.FIRST]):
        trade, since = pages.TRADES[number % 9], 1996 + number
        text = (
            f"{first} {last} has been {trade} at the mill since {since}, and knows which of the fourteen steps creaks.",
            f"Ask {first} about the winter of {since + 3}, when the pond froze and the wheel stood for nineteen days.",
        )
        found.append(
            Page(f"/people/{first.lower()}-{last.lower()}", f"{first} {last}", paragraphs(*text), text[0][:120])
        )
    entries = [(page.path, page.title) for page in found]
    return [Page("/people", "People of the mill", listing(entries), "Who does what, and since when."), *found]


def _events() -> list[Page]:
    found = []
    for year in journal.YEARS:
        for slug, title, text in pages.EVENTS:
            draw = random.Random(f"{slug}{year}")
            hour, month = f"{draw.randint(8, 20)} o'clock", draw.choice(["May", "June", "July", "September"])
            found.append(
                Page(
                    f"/events/{year}-{slug}",
                    f"{title} {year}",
                    paragraphs(
                        text.format(hour=hour),
                        f"It was on the {draw.randint(2, 28)}th of {month}, and {draw.randint(60, 900)} people came.",
                    ),
                    f"{title}, {month} {year}.",
                    kinds=("Event",),
                )
            )
    entries = [(page.path, page.title) for page in found]
    return [Page("/events", "Events at the mill", listing(entries), "What was on, and what is."), *found]


def _shop(shop: str) -> list[Page]:
    found = []
    for slug, title, text in pages.GOODS:
        for size, said, price in pages.SIZES:
            path = f"/{shop}/{slug}-{size}" if size != "1kg" or "flour" in slug or "rye" in slug else f"/{shop}/{slug}"
            main = paragraphs(text, f"Sold {said} at {price + len(slug) % 4} pounds, posted on Thursdays.")
            main += f'<p><img src="/images/{slug}.svg" alt="{escape(title)}"></p>'
            found.append(Page(path, f"{title}, {said}", main, text, kinds=("Product",)))
    entries = [(page.path, page.title) for page in found]
    return [Page(f"/{shop}", "The mill shop", listing(entries), "Flour, bannock mix and a few other things."), *found]


def _tides() -> list[Page]:
    found = []
    for year in range(2010, 2025):
        for quarter in range(1, 5):
            lines = [f"Quillhaven: high water, {year}, quarter {quarter}", ""]
            day = date(year, 3 * quarter - 2, 1)
            for _ in range(45):
                hours = (day.toordinal() * 0.841) % 12.42
                height = 4.6 + 1.1 * math.cos(2 * math.pi * day.toordinal() / 14.77)
                lines.append(f"{day:%d %b}   {int(hours):02}:{int(hours % 1 * 60):02}   {height:.2f} m")
                day += timedelta(days=2)
            found.append(
                Page(
                    f"/tide-tables/{year}/q{quarter}.pdf",
                    f"Tide table {year}, quarter {quarter}",
                    "",
                    media_type="application/pdf",
                    body=pdf.write(lines),
                )
            )
    entries = [(page.path, page.title) for page in found]
    return [Page("/tide-tables", "Tide tables", listing(entries), "High water at Quillhaven since 2010."), *found]
