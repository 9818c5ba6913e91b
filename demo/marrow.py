"""Marrow Lane, an allotment society: about 60 pages, restored from a backup under the same name."""

from demo.content import pages
from demo.pages import Page, Template, listing, paragraphs

HOST = "marrowlane.example"
TEMPLATE = Template(
    "Marrow Lane Allotments",
    f"http://{HOST}",
    (("/growing", "Growing"), ("/rules", "Rules"), ("/plots", "Plots")),
    "Marrow Lane Allotment Society, gate two, behind the railway.",
    "Trellis 2.1",
)


def site() -> dict[str, Page]:
    """Return the pages by path."""
    found = [
        Page(
            "/",
            "Marrow Lane Allotments",
            paragraphs(
                "Fifty-two plots between the railway and the brook, dug since 1919.",
                'See <a href="/growing">what to do this month</a>, or ask about <a href="/plots">a plot</a>.',
            ),
            "Fifty-two plots since 1919.",
        ),
        Page(
            "/rules",
            "Rules of the society",
            paragraphs(
                "Keep your path as wide as a barrow. Shut the gate behind you. Bonfires only on the first of November.",
                "Water from the tank is for plants; the brook is for nobody.",
            ),
        ),
        Page(
            "/plots",
            "Plots and the waiting list",
            paragraphs(
                "A full plot is ten rods and costs thirty pounds a year. Half plots are let first.",
                "There are eleven names on the list, and three plots came free last winter.",
            ),
        ),
    ]
    entries = []
    for slug, name in pages.ALLOTMENT:
        for month in pages.MONTHS:
            path, title = f"/growing/{slug}-in-{month}", f"{name.capitalize()} in {month.capitalize()}"
            entries.append((path, title))
            found.append(
                Page(
                    path,
                    title,
                    paragraphs(
                        pages.PLOT_WORK[month],
                        f"For {name} the bed should be {8 + len(slug)} inches deep and in the {slug[0]} row.",
                    ),
                    f"What {name} want in {month.capitalize()}.",
                )
            )
    found.append(Page("/growing", "What to do this month", listing(entries)))
    return {page.path: page for page in found}
