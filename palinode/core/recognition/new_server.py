"""The default page of a new server, or of a host that does not know the name."""

import re

from palinode.core.recognition.look import Look

_GREETING = re.compile(
    r"welcome to (nginx|caddy|openresty|lighttpd)|test page for the|apache2? \w+ default page|^it works!?$"
    r"|default (web ?site|web ?server|host|server|vhost|virtual host) page|default (web )?page$|iis windows server"
    r"|http server test page|standardseite|page par défaut|página (por defecto|predeterminada)|pagina predefinita"
    r"|your (web ?site|web ?server|domain) is (ready|working|now working)"
    r"|placeholder page|this domain is not configured|no (web ?site|site) (is )?configured",
    re.MULTILINE,
)
_GROUND = re.compile(
    r"document ?root|/var/www|/usr/share/nginx|/etc/(nginx|apache2|httpd)|default (page|web|site|vhost)|web server"
    r"|webserver|index\.html|not (been )?(configured|set up|linked)|nicht (konfiguriert|eingerichtet)"
    r"|n'est pas (encore )?configuré|no está configurado|hosting|apache|nginx|caddy|\biis\b"
)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    Its greeting must stand in title or heading, the talk of servers in its text, and it must lead nowhere.
    """
    if look.words > 400 or len(look.inside) > 2:
        return ""
    greeting = _GREETING.search(look.headline)
    bare = look.words <= 6 and re.fullmatch(r"\s*it works!?\s*", look.text) is not None
    if not (greeting or bare):
        return ""
    if bare or _GROUND.search(look.text):
        return f"“{(greeting[0] if greeting else 'it works').strip()}”, and it leads nowhere else on the site"
    return ""
