"""A parked domain: the name belongs to somebody who shows advertisements or sells it."""

import re

from palinode.core.recognition.look import Look

_FOR_SALE = re.compile(
    r"(buy|purchase|acquire) this (domain|name)|(domain|name)( name)?( is| may be)? (for sale|parked|expired)"
    r"|parked (domain|free)|domain parking|domain geparkt|domain steht zum verkauf|diese domain (kaufen|ist geparkt)"
    r"|domaine (est )?(à vendre|parqué)|nom de domaine est (à vendre|expiré)|dominio (está )?(en venta|aparcado)"
    r"|dominio (è )?(in vendita|parcheggiato)|domein (is )?(te koop|geparkeerd)|domínio (está )?(à venda|estacionado)"
    r"|domena (jest )?(na sprzedaż|zaparkowana)|has expired|ist abgelaufen|a expiré|ha caducado|è scaduto|is verlopen"
)
_RELATED = re.compile(r"related (searches|links)|sponsored listings|verwandte (suchen|links)|recherches associées")


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    An article about domains has more to say, and leads on to others.
    """
    if look.words > 200 or len(look.inside) > 6:
        return ""
    sale = _FOR_SALE.search(look.text)
    if not sale:
        return ""
    names_itself = look.host.partition(":")[0] in look.text
    if names_itself or _RELATED.search(look.text) or (look.outside and not look.inside):
        ground = "it names its own domain" if names_itself else "it leads to other hosts alone"
        return f"“{sale[0]}”, and {ground}"
    return ""
