"""A bundle brought into this copy: looked at first, then taken whole or not at all; what is here is never written over
unless somebody says so of that very record."""

from __future__ import annotations

import io
import logging
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from django.core.files.base import ContentFile
from django.db import IntegrityError, transaction
from django.db.models import Model, QuerySet, UniqueConstraint
from django.utils import timezone
from PIL import Image, UnidentifiedImageError

from accounts.models import Role, User
from audit import trail
from bench.services.keep_gang import update_loop
from bundle.rows import Json, leads, people_in, told, value_of
from bundle.tables import BY_MODEL, BY_NAME, PEOPLE, TABLES, TRAIL, Nest, Table
from bundle.zipped import Opened
from common.problems import Problem
from ember_core.handover.frozen import canonical, digest
from handover.models import Signature
from handover.services.history import history_of
from handover.services.issuing import differs, faults_of
from handover.services.lines import lines_in
from handover.services.standing import loop_standing
from judging.services.judging import check_incomplete, missing_parts
from loops.documents import sheet_document
from loops.models import Gang, Loop
from parts.models import Part
from proving.services.answers import prove_answer
from setup.services.houses import house_of
from sites.access import sees_all
from sites.models import Site
from survey.models import Photo
from survey.services.answers import survey_answer
from work.services.answers import work_answer
from work.services.finding import load

logger = logging.getLogger(__name__)
BROUGHT_IN = "bundle brought in"
# Columns by which a person knows a row.
_TITLES = ("name", "title", "breaker", "caption", "number", "key", "note", "step", "item")
_PERSONAL = ("name", "strokes", "salt")
# What no loop is reckoned by: a part is known to it through the rows of its gangs, the trail is only told.
_OF_NO_LOOP = ("parts", TRAIL.name)


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """A record that is here and says something else there; `mark` is a digest of what is here, `there` what the bundle
    says."""

    table: str
    id: str
    mark: str
    title: str
    columns: tuple[Json, ...]
    may_take: bool
    there: Json


@dataclass(frozen=True, slots=True, kw_only=True)
class Obstacle:
    """What keeps a bundle out: a code and what it is about."""

    code: str
    params: Json = field(default_factory=dict)


@dataclass(slots=True)
class Looked:
    """What a bundle does here, or did."""

    counts: list[Json] = field(default_factory=list)
    differences: list[Difference] = field(default_factory=list)
    obstacles: list[Obstacle] = field(default_factory=list)
    new_people: list[str] = field(default_factory=list)
    is_applied: bool = False


def take(who: User, opened: Opened, *, apply: bool, chosen: Collection[str] = ()) -> Looked:
    """Look at a bundle, or with `apply` bring it in.

    Parameters
    ----------
    chosen : marks of records that differ and are to become what the bundle says; every other one stays.

    Raises
    ------
    Problem : it leads out of itself, is of a site that one does not see; or `apply` was asked with an obstacle there,
        or for a record that somebody has changed since its mark was read.
    """
    _check_closed(opened)
    taker = _Taker(who, opened, frozenset(chosen), is_writing=apply)
    with transaction.atomic():
        taker.look()
        if apply:
            if taker.found.obstacles:
                first = taker.found.obstacles[0]
                raise Problem(409, first.code, path="file", **first.params)
            if lost := taker.chosen - {one.mark for one in taker.found.differences}:
                raise Problem(409, "bundle_changed_since", path="take", count=len(lost))
            try:
                taker.write()
            except IntegrityError as error:
                raise Problem(409, "bundle_clash", path="file", name=str(error.args[-1])[:120]) from error
            taker.found.is_applied = True
    return taker.found


def _check_closed(opened: Opened) -> None:
    """Every row leads to rows of the bundle: it says nothing about what else is here."""
    held: dict[Any, set[str]] = {
        BY_NAME[name].model: {row[BY_NAME[name].key_name] for row in rows}
        for name, rows in opened.rows.items()
        if name != PEOPLE
    }
    for where, model, key in leads(opened.rows):
        if key not in held.get(model, ()):
            raise Problem(422, "bundle_leads_out", path="file", name=where, key=key)
    people = {row["id"] for row in opened.rows[PEOPLE]}
    if lost := people_in(opened.rows) - people:
        raise Problem(422, "bundle_leads_out", path="file", name=PEOPLE, key=min(lost))
    keys = set().union(*held.values())
    for row in opened.rows[TRAIL.name]:
        if row["subject_id"] not in keys:
            raise Problem(422, "bundle_leads_out", path="file", name=TRAIL.name, key=row["subject_id"])
    if [row["id"] for row in opened.rows["sites"]] != [opened.manifest["site"]["id"]]:
        raise Problem(422, "bundle_leads_out", path="file", name="sites", key=opened.manifest["site"]["id"][:40])


class _Taker:
    def __init__(self, who: User, opened: Opened, chosen: frozenset[str], *, is_writing: bool) -> None:
        self._who = who
        self._opened = opened
        self.chosen = chosen
        self._is_writing = is_writing
        self._new: dict[str, list[Json]] = {}
        self._changed: dict[str, list[tuple[Json, Json]]] = {}
        self._parts: dict[str, str] = {}
        self._keyed: dict[str, dict[str, Json]] = {}
        self.found = Looked()

    def look(self) -> None:
        """Compare everything; nothing is written."""
        self._check_sight()
        self._check_live()
        self._match_parts()
        known = {str(key) for key in User.objects.filter(pk__in=self._people()).values_list("pk", flat=True)}
        self.found.new_people = [row["name"] for row in self._opened.rows[PEOPLE] if row["id"] not in known]
        for table in (*TABLES, TRAIL):
            self._compare(table, self._rows(table))

    def _people(self) -> list[str]:
        return [row["id"] for row in self._opened.rows[PEOPLE]]

    def _check_sight(self) -> None:
        """A site that is here is one that the person sees."""
        site = Site.everything.filter(pk=self._opened.manifest["site"]["id"]).first()
        if site is not None and not sees_all(self._who) and not site.members.filter(pk=self._who.pk).exists():
            raise Problem(404, "not_found")

    def _check_live(self) -> None:
        """What is switched off is switched off in one house alone: nobody reads from a copy that it still is."""
        rows = self._opened.rows
        if any(row["closed_at"] is None for row in rows["isolations"]) or any(
            row["off_at"] is None for row in rows["locks"]
        ):
            self.found.obstacles.append(Obstacle(code="bundle_still_isolated"))

    def _match_parts(self) -> None:
        """A part that is here by maker and name under another identity is that part."""
        here = {(part.maker.casefold(), part.name.casefold()): str(part.pk) for part in Part.objects.all()}
        for row in self._opened.rows["parts"]:
            there = here.get((row["maker"].casefold(), row["name"].casefold()))
            if there is not None and there != row["id"]:
                self._parts[row["id"]] = there

    def _rows(self, table: Table) -> list[Json]:
        rows = self._opened.rows[table.name]
        if table.model is Part:
            return [row for row in rows if row["id"] not in self._parts]
        nests = [nest.name for nest in table.nests if _has_part(nest)]
        return [
            row | {n: [one | {"part": self._parts.get(one["part"], one["part"])} for one in row[n]] for n in nests}
            for row in rows
        ]

    def _compare(self, table: Table, rows: list[Json]) -> None:
        keys = [row[table.key_name] for row in rows]
        is_whole = self._opened.is_whole
        found = table.model._base_manager.filter(**{f"{table.key_name}__in": keys})
        if self._is_writing and not table.is_frozen:
            # Nobody changes between the comparison and the writing what is compared.
            found = found.select_for_update()
        here = {row[table.key_name]: row for row in told(table, found, is_whole=is_whole)}
        new, same = [], 0
        for row in rows:
            mine = here.get(row[table.key_name])
            if mine is None:
                new.append(row)
            elif mine == row or (table.model is Signature and _is_erased(mine, row)):
                same += 1
            else:
                self._differ(table, mine, row)
        self._new[table.name] = new
        self._clashes(table, new)
        if rows:
            changed = len(rows) - len(new) - same
            self.found.counts.append({"table": table.name, "new": len(new), "same": same, "differ": changed})

    def _differ(self, table: Table, here: Json, there: Json) -> None:
        title = _title(there)
        if table.owner and here[table.owner] != there[table.owner]:
            self.found.obstacles.append(Obstacle(code="bundle_of_another", params={"name": title}))
            return
        if table.is_frozen:
            self.found.obstacles.append(Obstacle(code="bundle_altered", params={"table": table.name, "name": title}))
            return
        columns = tuple(
            {"name": name, "here": here[name], "there": there[name]} for name in there if here[name] != there[name]
        )
        key = there[table.key_name]
        mark = digest(canonical(here))
        one = Difference(
            table=table.name,
            id=key,
            mark=mark,
            title=title,
            columns=columns,
            may_take=not table.is_kept,
            there=there,
        )
        self.found.differences.append(one)
        if one.may_take and mark in self.chosen:
            self._changed.setdefault(table.name, []).append((here, there))

    def _clashes(self, table: Table, new: list[Json]) -> None:
        """What is new there and has a name or a number that something else has here."""
        for names in _unique(table.model):
            if not new or not set(names) <= set(new[0]):
                continue
            of = {_folded(row[name] for name in names): row for row in new}
            first = names[0]
            rows = table.model._base_manager.filter(**{f"{first}__in": [row[first] for row in new]})
            for values in rows.values_list(*names):
                row = of.get(_folded(str(one) if hasattr(one, "hex") else one for one in values))
                if row is not None:
                    params = {"table": table.name, "name": _title(row)}
                    self.found.obstacles.append(Obstacle(code="bundle_clash_in", params=params))

    def write(self) -> None:
        """Everything new, and what was chosen of what differs."""
        self._make_people()
        for table in (*TABLES, TRAIL):
            for row in _parents_first(table, self._new[table.name]):
                self._write(table, row, is_new=True)
            for here, there in self._changed.get(table.name, []):
                self._write(table, there, is_new=False, version=here.get("version"))
        site = Site.everything.get(pk=self._opened.manifest["site"]["id"])
        if self._new["sites"]:
            site.members.add(self._who)
        self._settle(site)
        self._note(site)

    def _make_people(self) -> None:
        """Whoever is named and has no account here gets one that nobody can sign in with."""
        known = {str(key) for key in User.objects.filter(pk__in=self._people()).values_list("pk", flat=True)}
        for row in self._opened.rows[PEOPLE]:
            if row["id"] not in known:
                made = User(
                    pk=row["id"],
                    username=f"elsewhere-{row['id']}",
                    display_name=row["name"],
                    role=Role.TECHNICIAN,
                    is_active=False,
                )
                made.set_unusable_password()
                made.save(force_insert=True)

    def _write(self, table: Table, row: Json, *, is_new: bool, version: int | None = None) -> None:
        fields = table.fields(is_whole=self._opened.is_whole)
        values = {one.attname: value_of(one, row[one.name]) for one in fields if not one.many_to_many}
        if not self._opened.is_whole and table.whole_only:
            values |= {f"{name}_id": self._opened.manifest["loops"][0]["id"] for name in table.whole_only}
        model: Any = table.model
        if is_new:
            stamped = (one.attname for one in model._meta.concrete_fields if getattr(one, "auto_now", False))
            made = model(**{name: timezone.now() for name in stamped} | values)
            if model is Photo:
                self._keep_picture(made)
            elif table.name == "issues":
                made.pdf = self._opened.pages(row["id"])
            # As it is: no moment of it becomes now.
            made.save_base(raw=True, force_insert=True)
        else:
            made = model._base_manager.get(**{table.key_name: row[table.key_name]})
            for name, value in values.items():
                setattr(made, name, value)
            if version is not None:
                made.version = version + 1
            made.save_base(raw=True, force_update=True)
        for one in fields:
            if one.many_to_many:
                getattr(made, one.name).set(row[one.name])
        for nest in table.nests:
            self._write_nest(nest, made, row[nest.name])

    def _write_nest(self, nest: Nest, owner: Any, rows: list[Json]) -> None:
        nest.model._base_manager.filter(**{nest.owner: owner}).delete()
        for row in rows:
            made = nest.model(**{one.attname: value_of(one, row[one.name]) for one in nest.fields})
            setattr(made, nest.owner, owner)
            if "loop" in nest.left_out:
                made.loop_id = owner.loop_id
            made.save_base(raw=True, force_insert=True)

    def _keep_picture(self, photo: Photo) -> None:
        content = self._opened.photograph(str(photo.pk))
        try:
            with Image.open(io.BytesIO(content), formats=("JPEG",)) as picture:
                picture.verify()
                size = picture.size
        except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError) as error:
            raise Problem(422, "not_a_photo", path="file") from error
        if size != (photo.width_px, photo.height_px):
            raise Problem(422, "not_a_photo", path="file")
        photo.file.save(f"{photo.pk}.jpg", ContentFile(content), save=False)

    def _settle(self, site: Site) -> None:
        """Work out anew what is computed of each loop that was written of, and see that every page of it can be
        told."""
        for loop in self._written_of(site):
            loop.site = site
            try:
                with transaction.atomic():
                    update_loop(loop)
                    _tell(loop, self._who)
            except Problem:
                raise
            except Exception as error:
                # Whatever a file of somebody else breaks, it is the file that is refused.
                logger.warning("bundle refused at loop %s: %r", loop.pk, error)
                raise Problem(422, "bundle_untold", path="file", name=loop.name) from error

    def _written_of(self, site: Site) -> QuerySet[Loop]:
        """The loops of which something was written; all of the bundle where something of the site is new, and all
        that are here where something of the site became another."""
        news = {self._loop_of(name, row) for name, rows in self._new.items() if name not in _OF_NO_LOOP for row in rows}
        others = {self._loop_of(name, row) for name, pairs in self._changed.items() for _, row in pairs}
        if None in others:
            return Loop.everything.filter(site=site)
        if None in news:
            return Loop.everything.filter(pk__in=[row["id"] for row in self._opened.rows["loops"]])
        return Loop.everything.filter(pk__in=[one for one in news | others if one is not None])

    def _loop_of(self, name: str, row: Json) -> str | None:
        """To which loop a row belongs, by what it belongs to; None if it is of the whole site."""
        table = BY_NAME[name]
        if table.model is Loop:
            return str(row["id"])
        if not table.owner:
            return None
        over = BY_MODEL[table.model._meta.get_field(table.owner).related_model]
        return self._loop_of(over.name, self._by_key(over)[row[table.owner]])

    def _by_key(self, table: Table) -> dict[str, Json]:
        if table.name not in self._keyed:
            self._keyed[table.name] = {row[table.key_name]: row for row in self._opened.rows[table.name]}
        return self._keyed[table.name]

    def _note(self, site: Site) -> None:
        after = {
            "content_sha256": self._opened.digest,
            "made_at": self._opened.manifest["made_at"],
            "new": {one["table"]: one["new"] for one in self.found.counts if one["new"]},
            "changed": {name: [there for _, there in pairs] for name, pairs in self._changed.items()},
        }
        before = {name: [here for here, _ in pairs] for name, pairs in self._changed.items()}
        trail.record(self._who, BROUGHT_IN, site, before=before or None, after=after)


def _parents_first(table: Table, rows: list[Json]) -> list[Json]:
    """Rows that lead to others of their own table after those."""
    if not any(one.related_model is table.model for one in table.fields(is_whole=True)):
        return rows
    return sorted(rows, key=lambda row: str(row["at"]))


def _tell(loop: Loop, who: User) -> None:
    for gang in Gang.everything.filter(loop=loop).select_related("loop__site"):
        document = sheet_document(gang)
        check_incomplete(document, missing_parts(document))
    for survey in loop.surveys.all():
        survey_answer(loop, survey.place, who)
    work_answer(load(loop))
    house_of(loop.site)
    lines_in(loop, "en")
    loop_standing(loop)
    prove_answer(loop)
    history_of(loop)
    for issue in loop.issues.all():
        if faults := faults_of(issue):
            raise Problem(422, "bundle_altered", table="issues", name=", ".join(faults))
        differs(issue, loop)


def _has_part(nest: Nest) -> bool:
    return any(one.name == "part" for one in nest.fields)


def _is_erased(here: Json, there: Json) -> bool:
    """A signature whose name was erased here stays so, whoever still has it."""
    return not any(here[name] for name in _PERSONAL) and all(
        here[name] == there[name] for name in here if name not in _PERSONAL
    )


def _title(row: Json) -> str:
    return str(next((row[name] for name in _TITLES if row.get(name)), row.get("id", "")))[:80]


def _folded(values: Iterable[Any]) -> tuple[Any, ...]:
    return tuple(value.casefold() if isinstance(value, str) else value for value in values)


def _unique(model: type[Model]) -> Iterator[tuple[str, ...]]:
    """What no two rows of a model have alike, beside their key."""
    for rule in model._meta.constraints:
        if isinstance(rule, UniqueConstraint) and rule.fields:
            yield tuple(rule.fields)
    for one in model._meta.concrete_fields:
        if one.unique and not one.primary_key:
            yield (one.name,)
