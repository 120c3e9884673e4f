"""Words as they are compared: small letters without accents, so that bytes can be looked for."""

from __future__ import annotations

import unicodedata

# Letters that no accent can be taken from.
_OTHERS = str.maketrans({"ø": "o", "ł": "l", "đ": "d", "ħ": "h", "ŧ": "t", "æ": "ae", "œ": "oe", "ı": "i"})


def plain(text: str) -> str:
    """The same for É, é, e and a combining accent: `Café Ångström` becomes `cafe angstrom`."""
    apart = unicodedata.normalize("NFKD", unicodedata.normalize("NFKD", text).casefold())
    return "".join(letter for letter in apart if not unicodedata.combining(letter)).translate(_OTHERS)
