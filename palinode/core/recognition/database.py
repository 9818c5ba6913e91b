"""The site cannot reach its database, and says so with status 200."""

import re

from palinode.core.recognition.look import Look

_NAME = r"(database|datenbank|base de datos|base de données|banca dati|databank|banco de dados|baz[ay] danych|databas)"
_TROUBLE = (
    r"(establish\w{0,8} .{0,20}connection|connection (error|failed|refused)|could ?n[o']t connect|can(no|')t connect"
    r"|unable to connect|connect\w{0,8} to .{0,30}failed|error (establishing|connecting)|is (currently )?unavailable"
    r"|verbindung|herstell|fehler|connexion|erreur|conexión|conectar|connessione|errore|verbinding|fout|conexão"
    r"|erro|połącz|błąd|anslut)"
)
_SAID = re.compile(rf"{_NAME}.{{0,60}}{_TROUBLE}|{_TROUBLE}.{{0,60}}{_NAME}", re.DOTALL)
_CODES = re.compile(
    r"sqlstate\[\w+\]|(?<!undefined function )mysqli?_(p?connect|real_connect)\(|pg_connect\("
    r"|access denied for user '[^']*'@'"
    r"|can't connect to (local )?(mysql|mariadb) server|could not connect to server: connection refused"
    r"|too many connections|unknown database '|connection refused in .{0,80}\.php"
)


def recognise(look: Look) -> str:
    """Return the words that it is recognised by, or an empty string; advice on such errors is longer and leads on."""
    if not look.is_notice:
        return ""
    said = _CODES.search(look.text) or (_SAID.search(look.text) if look.words <= 80 else None)
    return f"“{said[0][:80]}” on a page of {look.words} words that leads nowhere" if said else ""
