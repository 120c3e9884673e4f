"""Names that are spoken: room, what and place; none that another contains or sounds like."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from enum import StrEnum

# Words this alike are taken for each other across a room [1]; our assumption.
ALIKE = 0.8
LONGEST = 40
# Which gang is left and which right is forgotten by whoever turns round.
SIDES = frozenset({"left", "right", "upper", "lower", "links", "rechts"})


class Confusion(StrEnum):
    """What is wrong with a name, or with two."""

    SAME = "name_same"
    CONTAINED = "name_contained"
    SOUNDS_ALIKE = "name_sounds_alike"
    SIDE = "name_by_side"
    TOO_LONG = "name_too_long"
    UNSPEAKABLE = "name_unspeakable"


@dataclass(frozen=True, slots=True, kw_only=True)
class Confused:
    """A name that will be confused, and with which other; empty where it is wrong by itself."""

    name: str
    why: Confusion
    other: str = ""


def proposed(room: str, what: str, place: str = "") -> str:
    """Room, what it lights and where, without a word twice."""
    words: list[str] = []
    for word in " ".join((room, what, place)).split():
        if word.casefold() not in (known.casefold() for known in words):
            words.append(word)
    return " ".join(words)[:LONGEST].strip()


def spoken(name: str) -> tuple[str, ...]:
    """The words of a name as they are heard: no accents, no case, no signs; figures stay."""
    plain = unicodedata.normalize("NFKD", name.casefold())
    return tuple(re.findall(r"[^\W_]+", "".join(sign for sign in plain if not unicodedata.combining(sign))))


def sound(word: str) -> str:
    """What is left of a word across a room: its consonants by their kind, doubled ones once, and its first sound."""
    swaps = (("ph", "f"), ("ck", "k"), ("gh", ""), ("qu", "k"), ("x", "ks"), ("wh", "w"), ("kn", "n"), ("wr", "r"))
    for a, b in swaps:
        word = word.replace(a, b)
    kinds = str.maketrans("bpdtgkcqszvfmn", "ppttkkkkssffnn")
    heard = word[:1] + re.sub(r"[aeiouyhw]", "", word[1:])
    return re.sub(r"(.)\1+", r"\1", heard.translate(kinds))


def confusions(names: Sequence[str]) -> tuple[Confused, ...]:
    """Every name that will be confused, each pair once, in the order of the names."""
    found: list[Confused] = []
    heard = [spoken(name) for name in names]
    for k, name in enumerate(names):
        if not heard[k]:
            found.append(Confused(name=name, why=Confusion.UNSPEAKABLE))
            continue
        if len(name) > LONGEST:
            found.append(Confused(name=name, why=Confusion.TOO_LONG))
        if SIDES & set(heard[k]):
            found.append(Confused(name=name, why=Confusion.SIDE))
        for n in range(k):
            why = _between(heard[n], heard[k])
            if why is not None:
                found.append(Confused(name=name, why=why, other=names[n]))
    return tuple(found)


def _between(one: tuple[str, ...], other: tuple[str, ...]) -> Confusion | None:
    if not one or not other:
        return None
    if one == other:
        return Confusion.SAME
    short, long = sorted((one, other), key=len)
    if any(long[k : k + len(short)] == short for k in range(len(long) - len(short) + 1)):
        return Confusion.CONTAINED
    if len(one) == len(other) and all(_sounds_like(a, b) for a, b in zip(one, other, strict=True)):
        return Confusion.SOUNDS_ALIKE
    return None


def _sounds_like(one: str, other: str) -> bool:
    if one == other:
        return True
    if one.isdigit() or other.isdigit():
        return False
    return sound(one) == sound(other) or SequenceMatcher(None, one, other).ratio() >= ALIKE
