"""An installer: the site's software asks to be set up, its database is empty or not found."""

import re

from palinode.core.recognition.look import Look

_FIELDS = re.compile(
    r"^(db|database|sql)[_-]?(name|host|server|user|pass|prefix|type|driver)|^dbname$|^(table)?_?prefix$|^uname$|^pwd$"
    r"|^(weblog|site|blog|shop)[_-]?(title|name)$|^admin[_-]?(email|user|pass|name|login)|^jform\[(site_name|admin|db)"
    r"|^account\[(name|mail|pass)|^(user_name|admin_password2?|pass1|pass2|blog_public)$"
)
_SAID = re.compile(
    r"install(ation|er|ieren|er votre|azione|atie|ar|ować)?|set ?up|einricht|configuration|configuración|configurazione"
)
_LANGUAGES = 8


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    The names of its form's fields say it: a database's, a site's title, an owner's password. Such a form
    stands under a headline that speaks of setting up; a page for signing up has not two of these fields.
    """
    for form in look.forms:
        fields = [name for name in form.fields if _FIELDS.search(name.lower())]
        speaks = _SAID.search(look.headline) or "install" in look.path
        if len(set(fields)) >= 2 and (speaks or len(set(fields)) >= 4):
            return f"a form that asks for {', '.join(dict.fromkeys(fields[:3]))}"
    if "install" in look.path and look.is_notice and look.forms and _SAID.search(look.headline):
        return "a form at an installer's address"
    return ""
