"""The round as a table: every row of it out, and loops from a list that somebody else made in."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from bench.services.keep_gang import WORDS, keep_words
from bench.services.make_loop import MOST_GANGS, add_gang, make_loop
from common.problems import Problem
from common.tables import safe
from loops.models import Gang, Loop
from sites.access import sites_of
from sites.models import Circuit, Site
from wording.texts import catalogue

Json = dict[str, Any]
# What is read; what else is written is left aside when it comes back.
READ = ("site", "loop", "breaker", "note", "gangs")
WRITTEN = (*READ, "assigned", "due_on", "stage", "verdict", "next_step", "changed_at")
BETWEEN_GANGS = "|"
MOST_ROWS = 500
LONGEST = {"site": 120, "loop": 120, "breaker": 20, "note": 500, "gangs": 120}


def rows_of(loops: Iterable[Loop]) -> Iterator[list[str]]:
    """The head, and a row a loop."""
    yield list(WRITTEN)
    stages, works = catalogue("handover")["stages"], catalogue("overall")["works"]
    for loop in loops:
        names = [gang.name for gang in sorted(loop.gangs.all(), key=lambda gang: gang.position)]
        yield [
            loop.site.name,
            loop.name,
            loop.circuit.breaker if loop.circuit else "",
            loop.note,
            BETWEEN_GANGS.join(names),
            str(loop.assigned) if loop.assigned else "",
            loop.due_on.isoformat() if loop.due_on else "",
            stages.get(loop.stage, ""),
            works[loop.works]["word"],
            loop.get_next_step_display(),
            loop.changed_at.isoformat(timespec="seconds"),
        ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bad:
    """What is wrong at one place of a list."""

    line: int
    column: str
    code: str
    params: Json = field(default_factory=dict)


@dataclass(slots=True)
class Import:
    """What a list does: loops that are new, loops that are there and stay as they are, breakers that it names first."""

    new: list[str] = field(default_factory=list)
    unchanged: int = 0
    breakers: list[str] = field(default_factory=list)
    bad: list[Bad] = field(default_factory=list)
    is_applied: bool = False


def import_loops(who: User, text: str, *, apply: bool) -> Import:
    """Look at a list, or with `apply` make its loops, all or none.

    Raises
    ------
    Problem : `apply` was asked for a list with something wrong; nothing is made.
    """
    with transaction.atomic():
        found = Import()
        rows = _read(text, found)
        if len(rows) > MOST_ROWS:
            found.bad.append(Bad(line=MOST_ROWS + 2, column="", code="too_many", params={"most": MOST_ROWS}))
            rows = []
        sites = {site.name.casefold(): site for site in sites_of(who)}
        seen: set[tuple[str, str]] = set()
        for line, cells in rows:
            _take(who, found, line, cells, sites, seen, apply=apply)
        if found.bad and apply:
            raise Problem(422, "import_refused", bad_count=len(found.bad))
        found.is_applied = apply
    return found


def _read(text: str, found: Import) -> list[tuple[int, dict[str, str]]]:
    """Rows with their lines; commas or semicolons, as spreadsheets of different countries write them."""
    body = text.removeprefix("\ufeff")
    first = body.partition("\n")[0]
    delimiter = ";" if first.count(";") > first.count(",") else ","
    try:
        rows = list(csv.reader(io.StringIO(body), delimiter=delimiter, strict=True))
    except csv.Error:
        found.bad.append(Bad(line=1, column="", code="not_a_table"))
        return []
    head = [cell.strip().casefold() for cell in rows[0]] if rows else []
    if not {"site", "loop"} <= set(head) or len(set(head)) != len(head):
        found.bad.append(Bad(line=1, column="", code="wrong_columns", params={"columns": ", ".join(READ)}))
        return []
    read = []
    for line, cells in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(head):
            found.bad.append(Bad(line=line, column="", code="wrong_cell_count", params={"most": len(head)}))
            continue
        of = dict(zip(head, (_plain(cell) for cell in cells), strict=True))
        read.append((line, {name: of.get(name, "") for name in READ}))
    return read


def _plain(cell: str) -> str:
    """Without the apostrophe that keeps a cell from being a formula."""
    text = cell.strip()
    return text[1:] if text.startswith("'") and safe(text[1:]) == text else text


def _take(
    who: User,
    found: Import,
    line: int,
    cells: dict[str, str],
    sites: dict[str, Site],
    seen: set[tuple[str, str]],
    *,
    apply: bool,
) -> None:
    """One row: what is wrong with it, or what it makes."""
    gangs = [name.strip() for name in cells["gangs"].split(BETWEEN_GANGS)]
    before = len(found.bad)
    for name, longest in LONGEST.items():
        if any(len(part) > longest for part in (gangs if name == "gangs" else [cells[name]])):
            found.bad.append(Bad(line=line, column=name, code="text_too_long", params={"most": longest}))
    if not cells["loop"]:
        found.bad.append(Bad(line=line, column="loop", code="not_a_name"))
    if len(gangs) > MOST_GANGS:
        found.bad.append(Bad(line=line, column="gangs", code="too_many", params={"most": MOST_GANGS}))
    site = sites.get(cells["site"].casefold())
    if site is None:
        found.bad.append(Bad(line=line, column="site", code="no_such_site", params={"name": cells["site"][:80]}))
    if len(found.bad) > before or site is None:
        return
    key = (site.name.casefold(), cells["loop"].casefold())
    if key in seen:
        found.bad.append(Bad(line=line, column="loop", code="name_twice", params={"key": cells["loop"]}))
        return
    seen.add(key)
    there = Loop.everything.filter(site=site, name=cells["loop"]).first()
    if there is not None and there.archived_at is not None:
        found.bad.append(Bad(line=line, column="loop", code="name_archived", params={"name": cells["loop"]}))
    elif there is not None:
        found.unchanged += 1
    elif (twice := _twice(gangs)) is not None:
        found.bad.append(Bad(line=line, column="gangs", code="name_twice", params={"key": twice}))
    else:
        _make(who, found, site, cells, gangs, apply=apply)


def _twice(names: list[str]) -> str | None:
    """The first name that another is the same as; gangs without one are as many as they are."""
    alike = [name.casefold() for name in names]
    return next((name for name in names if name and alike.count(name.casefold()) > 1), None)


def _make(who: User, found: Import, site: Site, cells: dict[str, str], gangs: list[str], *, apply: bool) -> None:
    found.new.append(f"{site.name}: {cells['loop']}")
    circuit = Circuit.objects.filter(site=site, breaker=cells["breaker"]).first() if cells["breaker"] else None
    named = f"{site.name}: {cells['breaker']}"
    if cells["breaker"] and circuit is None and named not in found.breakers:
        found.breakers.append(named)
    if not apply:
        return
    if cells["breaker"] and circuit is None:
        circuit = Circuit.objects.create(site=site, breaker=cells["breaker"])
        trail.record(who, "made", circuit, after={"breaker": circuit.breaker, "site": str(site.pk)})
    loop = make_loop(who, site=site, circuit=circuit, name=cells["loop"], note=cells["note"])
    for _ in gangs[1:]:
        add_gang(who, loop.pk)
    for position, name in enumerate(gangs, start=1):
        Gang.objects.filter(loop=loop, position=position).update(name=name)
    keep_words(loop)
    loop.save(update_fields=WORDS)
