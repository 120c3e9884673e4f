"""What a bundle holds: which records, in an order in which each stands on those before it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import Field, Model, Q

from accounts.models import User
from audit.models import Change
from bundle.scope import Scope
from fitting.models import FitLeft, FitMark, KitCheck
from handover.models import AskBack, Issue, Signature
from judgements.models import Judgement
from loops.models import COMPUTED, FittedBypass, FittedControl, Gang, LampGroup, Loop, MeasuredValue
from parts.models import Part, PartClaim
from proving.models import Case, CaseEvent, CaseEvidence, ProveMark
from setup.models import House, PairMark, Programs
from sites.models import Circuit, LabelCorrection, Site
from survey.models import Isolation, Lock, MeterValue, Photo, Proof, ProofEvent, StepMark, Survey, TakenReading
from visits.models import Plan, PlanJob, PlanVisit
from work.models import CeilingPoint, CheckedDrawing, RouteChoice, TaskRecord

# Of a copy and not of the work: who works there, fetched a bundle from it, brought one in.
OWN_ACTIONS = ("bundle fetched", "bundle brought in", "members")
_FITS = (FittedControl, FittedBypass, LampGroup)


@dataclass(frozen=True, kw_only=True)
class Nest:
    """Rows that belong to one row of a table, come and go with it, and have no meaning without it."""

    name: str
    model: Any
    owner: str
    left_out: frozenset[str] = frozenset()

    @cached_property
    def fields(self) -> tuple[Field, ...]:
        """What is carried of each."""
        return _fields(self.model, {*self.left_out, self.owner})


@dataclass(frozen=True, kw_only=True)
class Table:
    """One kind of record.

    Attributes
    ----------
    way : lookup from the model to its loop; empty where `select` says which rows.
    left_out : columns that are computed anew where the bundle arrives, or that are files beside the tables.
    owner : the column that says to what a row belongs, and never changes.
    whole_only : columns that may lead outside of a single loop: not part of its bundle.
    is_frozen : nobody changes such a row; one that differs is no later state of it.
    is_kept : what differs stays as it is here, whatever comes.
    key : the column that names a row everywhere.
    """

    name: str
    model: Any
    way: str = ""
    left_out: frozenset[str] = frozenset()
    nests: tuple[Nest, ...] = ()
    owner: str = ""
    whole_only: tuple[str, ...] = ()
    is_frozen: bool = False
    is_kept: bool = False
    key: str = ""

    @cached_property
    def key_name(self) -> str:
        """The column that names a row."""
        return self.key or self.model._meta.pk.name

    def fields(self, *, is_whole: bool) -> tuple[Field, ...]:
        """What is carried of each row, the key first."""
        gone = self.left_out if is_whole else self.left_out | set(self.whole_only)
        found = _fields(self.model, gone)
        return tuple(sorted(found, key=lambda one: one.name != self.key_name))

    def rows(self, scope: Scope) -> Any:
        """The rows of a scope, archived ones too."""
        return self.model._base_manager.filter(_of_scope(self, scope)).distinct()


def _fields(model: type[Model], gone: Iterable[str]) -> tuple[Field, ...]:
    every = (*model._meta.concrete_fields, *model._meta.many_to_many)
    return tuple(one for one in every if one.name not in set(gone))


def _parts_of(scope: Scope) -> set[Any]:
    found: set[Any] = set()
    for model in _FITS:
        rows = model._base_manager.filter(gang__loop__in=scope.loops).exclude(part=None)
        found |= set(rows.values_list("part", flat=True))
    return found


def _of_scope(table: Table, scope: Scope) -> Q:
    if table.way:
        return Q(**{f"{table.way}__in": scope.loops})
    model, is_whole = table.model, scope.is_whole
    if model is Part:
        return Q(pk__in=_parts_of(scope))
    if model is Site:
        return Q(pk=scope.site)
    if model is Loop:
        return Q(pk__in=scope.loops)
    if model is Isolation:
        of_loop = Q(loop__in=scope.loops) | Q(proofs__loop__in=scope.loops) | Q(locks__loop__in=scope.loops)
        return Q(site=scope.site) if is_whole else of_loop
    if model is Lock:
        return Q(isolation__site=scope.site) if is_whole else Q(loop__in=scope.loops)
    if model is Circuit:
        named = Survey.other_circuits.through.objects.filter(survey__loop__in=scope.loops).values("circuit")
        used = Q(loops__in=scope.loops) | Q(pk__in=named)
        seen = Isolation.objects.filter(_of_scope(BY_MODEL[Isolation], scope))
        return Q(site=scope.site) if is_whole else used | Q(isolations__in=seen)
    if model is LabelCorrection:
        return Q(circuit__in=Circuit.objects.filter(_of_scope(BY_MODEL[Circuit], scope)))
    # What is of the whole site comes along with the whole site alone.
    return Q(site=scope.site) if is_whole else Q(pk__in=())


TABLES: tuple[Table, ...] = (
    Table(
        name="parts",
        model=Part,
        is_kept=True,
        nests=(Nest(name="claims", model=PartClaim, owner="part"),),
    ),
    Table(name="sites", model=Site, left_out=frozenset({"members"})),
    Table(name="circuits", model=Circuit, owner="site"),
    Table(name="label_corrections", model=LabelCorrection, owner="circuit", is_frozen=True),
    Table(
        name="loops",
        model=Loop,
        owner="site",
        left_out=frozenset(COMPUTED),
    ),
    Table(
        name="gangs",
        model=Gang,
        way="loop",
        owner="loop",
        nests=(
            Nest(name="control", model=FittedControl, owner="gang"),
            Nest(name="bypasses", model=FittedBypass, owner="gang"),
            Nest(name="lamps", model=LampGroup, owner="gang"),
        ),
    ),
    Table(name="measured", model=MeasuredValue, way="gang__loop", owner="gang"),
    Table(name="judgements", model=Judgement, way="gang__loop", owner="gang", is_frozen=True),
    Table(name="surveys", model=Survey, way="loop", owner="loop"),
    Table(name="meter_values", model=MeterValue, way="loop", owner="loop", is_frozen=True),
    Table(name="readings", model=TakenReading, way="loop", owner="loop"),
    Table(name="isolations", model=Isolation, owner="site", whole_only=("loop",)),
    Table(name="locks", model=Lock, owner="isolation"),
    Table(name="proofs", model=Proof, way="loop", owner="loop"),
    Table(name="proof_events", model=ProofEvent, way="proof__loop", owner="proof", is_frozen=True),
    Table(
        name="step_marks",
        model=StepMark,
        way="loop",
        owner="loop",
        key="entry",
        left_out=frozenset({"id"}),
        is_frozen=True,
    ),
    Table(name="photographs", model=Photo, way="loop", owner="loop", left_out=frozenset({"file"})),
    Table(name="ceiling_points", model=CeilingPoint, way="gang__loop", owner="gang"),
    Table(
        name="route_choices",
        model=RouteChoice,
        way="loop",
        owner="loop",
        nests=(Nest(name="minutes", model=TaskRecord, owner="choice", left_out=frozenset({"id", "loop"})),),
    ),
    Table(name="drawings", model=CheckedDrawing, way="loop", owner="loop", is_frozen=True),
    Table(name="fit_marks", model=FitMark, way="loop", owner="loop", is_frozen=True),
    Table(name="left_as", model=FitLeft, way="loop", owner="loop", is_frozen=True),
    Table(name="kit_checks", model=KitCheck, way="loop", owner="loop", is_frozen=True),
    Table(name="prove_marks", model=ProveMark, way="loop", owner="loop", is_frozen=True),
    Table(name="cases", model=Case, way="loop", owner="loop"),
    Table(name="evidence", model=CaseEvidence, way="case__loop", owner="case"),
    Table(name="case_events", model=CaseEvent, way="case__loop", owner="case", is_frozen=True),
    Table(name="houses", model=House, owner="site"),
    Table(name="programs", model=Programs, way="gang__loop", owner="gang"),
    Table(name="pair_marks", model=PairMark, owner="site", is_frozen=True),
    Table(
        name="plans",
        model=Plan,
        owner="site",
        nests=(
            Nest(name="jobs", model=PlanJob, owner="plan", left_out=frozenset({"id"})),
            Nest(name="visits", model=PlanVisit, owner="plan", left_out=frozenset({"id"})),
        ),
    ),
    Table(name="issues", model=Issue, way="loop", owner="loop", left_out=frozenset({"pdf"}), is_frozen=True),
    Table(name="signatures", model=Signature, way="issue__loop", owner="issue", is_frozen=True),
    Table(name="ask_backs", model=AskBack, way="issue__loop", owner="issue", is_frozen=True),
)
TRAIL = Table(name="trail", model=Change, is_frozen=True)
PEOPLE = "people"
BY_MODEL = {table.model: table for table in TABLES}
BY_NAME = {table.name: table for table in (*TABLES, TRAIL)}


def names_a_person(one: Any) -> bool:
    """Whether a column leads to an account."""
    return one.related_model is User
