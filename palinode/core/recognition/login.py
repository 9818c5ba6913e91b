"""A form to sign in, where a page should be."""

import re

from palinode.core.recognition.look import Look

_ITS_PLACE = re.compile(
    r"log-?in|sign-?in|anmeld|connexion|accedi|acceder|account|konto|compte|cuenta|admin|user|member|auth|session"
)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    At an address that is meant for signing in it is just that page; a form beside an article is a form.
    """
    if look.words > 90 or _ITS_PLACE.search(look.path):
        return ""
    for form in look.forms:
        if form.password and len(form.fields) <= 8:
            return f"a form with a password on a page of {look.words} words"
    return ""
