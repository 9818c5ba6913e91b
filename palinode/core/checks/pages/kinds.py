"""The kinds of findings about pages, in the order in which they are told."""

from palinode.core.checks.kind import Kind
from palinode.core.checks.thread import Thread
from palinode.core.fields import Field
from palinode.core.weight import Weight

LOST = Kind("lost", "page lost", Weight.BLOCKS, fault="unreachable", thread=Thread.CUT)
STOOD_IN = Kind("stood_in", "something else answers", Weight.BLOCKS, fault="unreachable", thread=Thread.DOTS)
NOT_JUDGED = Kind("not_judged", "not judged", Weight.MEND, thread=Thread.DOTS)
NEW = Kind("new", "new page", Weight.NOTE, thread=Thread.RING)
REDIRECT_MISSING = Kind("redirect_missing", "no redirect", Weight.MEND, fault="redirect", thread=Thread.BENT)
REDIRECT_TEMPORARY = Kind(
    "redirect_temporary", "redirect not permanent", Weight.MEND, fault="redirect", thread=Thread.BENT
)
UNPLANNED = Kind("unplanned", "moved, not in the rule", Weight.NOTE, thread=Thread.BENT)
NOINDEX = Kind("noindex", "search engines shut out", Weight.MEND, fault="unlisted")
OTHER_NAME = Kind("other_name", "under another name", Weight.NOTE)
"""It answers under another host name, or another scheme, than the rule says."""
MERGED = Kind("merged", "shares its page", Weight.MEND)
"""Its old address leads to a page that is another source page's, or several pages'."""
TEMPLATE_TEXT = Kind("template_text", "text of the template", Weight.NOTE, shared=True)
TEMPLATE_LINK = Kind("template_link", "link of the template", Weight.MEND, shared=True)
TEMPLATE_STYLES = Kind("template_styles", "style sheets", Weight.NOTE, shared=True)
TITLE = Kind("title", "title", Weight.MEND)
DESCRIPTION = Kind("description", "description", Weight.NOTE)
CANONICAL = Kind("canonical", "canonical", Weight.MEND)
ROBOTS = Kind("robots", "robots", Weight.MEND, fault="unlisted")
LANGUAGE = Kind("language", "language", Weight.NOTE)
HEADINGS = Kind("headings", "headings", Weight.MEND)
TEXT = Kind("text", "text", Weight.MEND)
IMAGES = Kind("images", "images", Weight.MEND, fault="file")
LINKS = Kind("links", "links", Weight.MEND)
FORMS = Kind("forms", "forms", Weight.MEND)
STRUCTURED = Kind("structured", "structured data", Weight.NOTE)
HREFLANG = Kind("hreflang", "hreflang", Weight.MEND)
OPEN_GRAPH = Kind("open_graph", "Open Graph", Weight.NOTE)
DOCUMENT = Kind("document", "file", Weight.MEND)

OF_FIELD: dict[Field, Kind] = {
    Field.TITLE: TITLE,
    Field.DESCRIPTION: DESCRIPTION,
    Field.CANONICAL: CANONICAL,
    Field.ROBOTS: ROBOTS,
    Field.LANGUAGE: LANGUAGE,
    Field.HEADINGS: HEADINGS,
    Field.TEXT: TEXT,
    Field.IMAGES: IMAGES,
    Field.LINKS: LINKS,
    Field.FORMS: FORMS,
    Field.STRUCTURED: STRUCTURED,
    Field.HREFLANG: HREFLANG,
    Field.OPEN_GRAPH: OPEN_GRAPH,
    Field.DOCUMENT: DOCUMENT,
}
"""Compared field to the kind of a difference in it."""
FIELD_OF: dict[Kind, Field] = {kind: field for field, kind in OF_FIELD.items()}
"""The same the other way round."""
OF_ROWS: dict[Kind, Field] = FIELD_OF | {NOINDEX: Field.ROBOTS}
"""Every kind that is told of a field."""
ALL: tuple[Kind, ...] = (
    LOST,
    STOOD_IN,
    NOT_JUDGED,
    NEW,
    REDIRECT_MISSING,
    REDIRECT_TEMPORARY,
    UNPLANNED,
    NOINDEX,
    OTHER_NAME,
    MERGED,
    TEMPLATE_TEXT,
    TEMPLATE_LINK,
    TEMPLATE_STYLES,
    *OF_FIELD.values(),
)
