"""Freezing the papers of a loop as an issue, and finding out whether anybody altered one since."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import asdict
from typing import Any, TypeVar

from django.conf import settings
from django.core.serializers.json import DjangoJSONEncoder
from django.db import transaction
from django.utils import timezone

from accounts.models import User
from audit import trail
from audit.models import Change
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core import CORE_VERSION
from ember_core.handover.frozen import GENESIS, Difference, Line, canonical, chained, differences, digest
from ember_core.handover.stages import Stage
from ember_core.handover.unusual import Seen as Unusual
from ember_core.handover.unusual import Unusual as Kind
from handover.models import Issue, Signature
from handover.services.lines import lines_in
from handover.services.looking import unusual_in
from handover.services.pages import issue_pdf
from handover.services.standing import is_asked_back, loop_standing, rules, wanted_signers
from loops.documents import sheet_document
from loops.models import Gang, Loop
from loops.services.seen import Seen
from proving.services.listing import prove_seen
from survey.models import Photo
from survey.services.record_pages import record_pages
from wording.texts import catalogue, language
from work.models import RouteChoice

Json = dict[str, Any]
T = TypeVar("T")
FORMAT = "ember-thread/issue"
ISSUED = "issued"


def content_of(
    loop: Loop,
    who: User,
    number: int,
    note: str,
    *,
    pages: str,
    lines: Mapping[str, Sequence[Line]],
    unusual: Mapping[str, Collection[Unusual]],
) -> Json:
    """Everything that an issue freezes: the record as data, and as lines in every language.

    Parameters
    ----------
    pages : digest of the printed pages. lines, unusual : by language, as they are printed.
    """
    choice = RouteChoice.objects.filter(loop=loop).first()
    gangs = Gang.objects.filter(loop=loop).select_related("control", "loop__site").order_by("position")
    made: Json = {
        "format": FORMAT,
        "format_version": 2,
        "core_version": CORE_VERSION,
        "number": number,
        "note": note,
        "made_at": timezone.now(),
        "made_by": str(who),
        "loop": {"id": loop.pk, "name": loop.name, "site": loop.site.name},
        "zone": loop.site.zone,
        "signers_wanted": list(wanted_signers(rules())),
        "pages_sha256": pages,
        "gangs": [
            {"position": gang.position, "sheet": sheet_document(gang), "overall": gang.overall, "trims": gang.trims}
            for gang in gangs
        ],
        "way": None if choice is None else {"way": choice.way, "label": choice.label, "wire_map": choice.wire_map},
        "record": record_pages(loop, who),
        "unusual": {code: [asdict(one) for one in found] for code, found in unusual.items()},
        "photographs": [
            {"id": photo.pk, "moment": photo.moment, "caption": photo.caption, "sha256": digest(photo.file.read())}
            for photo in Photo.objects.filter(loop=loop)
        ],
        "lines": {code: [asdict(line) for line in said] for code, said in lines.items()},
    }
    # Times and identities as text, as any reader of the file finds them.
    return dict(json.loads(json.dumps(made, cls=DjangoJSONEncoder)))


def make_issue(who: User, loop_pk: Any, given: Json) -> Issue:
    """Freeze a loop that is proved; the same entry twice is one issue.

    Parameters
    ----------
    given : `id`, `note`: what it is made for.

    Raises
    ------
    Problem : `not_proved`, with what is lacking; `nothing_changed` since the newest issue.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().select_related("site", "circuit").get(pk=loop_pk)
        known = Issue.objects.filter(pk=given["id"]).first()
        if known is not None:
            if known.loop_id != loop.pk:
                raise Problem(409, "entry_differs", path="id")
            return known
        seen = Seen(loop)
        standing = loop_standing(loop, seen)
        if standing.stage not in (Stage.PROVED, Stage.HANDED_OVER):
            words = catalogue("handover")
            lacks = standing.lacks if standing.next is Stage.PROVED else ()
            reason = " ".join(words["lacks"][lack.value] for lack in lacks) or words["stages"][standing.stage.value]
            raise Problem(422, "not_proved", path="", reason=reason)
        newest = Issue.objects.filter(loop=loop).first()
        if newest is not None and not differs(newest, loop, seen) and not is_asked_back(newest):
            raise Problem(422, "nothing_changed", path="", number=newest.number)
        number = 1 if newest is None else newest.number + 1
        note = given["note"].strip()
        lines = {code: lines_in(loop, code, seen=seen) for code, _ in settings.LANGUAGES}
        unusual = {code: unusual_in(loop, code, seen) for code, _ in settings.LANGUAGES}
        pdf = issue_pdf(loop, who, number, note, lines=lines[language()], unusual=unusual[language()])
        made = content_of(loop, who, number, note, pages=digest(pdf), lines=lines, unusual=unusual)
        content = canonical(made)
        row = Issue(
            pk=given["id"],
            number=number,
            loop=loop,
            content=content,
            pdf=pdf,
            content_sha256=digest(content),
            pdf_sha256=digest(pdf),
            basis=seen.of(prove_seen).basis,
            wants=list(wanted_signers(rules())),
            note=note,
            by=who,
        )
        row.chain = _chain(row, GENESIS if newest is None else newest.chain)
        row.save(force_insert=True)
        trail.record(who, ISSUED, loop, after={"issue": str(row.pk), "number": number, "chain": row.chain})
        update_loop(loop)
    return row


def _chain(row: Issue, before: str) -> str:
    return chained(before, str(row.loop_id), str(row.number), row.content_sha256, row.pdf_sha256)


def kept_lines(issue: Issue, language: str) -> list[Line]:
    """The lines of an issue as they were frozen."""
    return _kept(issue, "lines", language, lambda one: Line(**one))


def kept_unusual(issue: Issue, language: str) -> list[Unusual]:
    """What was unusual as it was frozen; an issue of before has it in the language of whoever made it."""
    return _kept(issue, "unusual", language, lambda one: Unusual(kind=Kind(one["kind"]), what=one["what"]))


def _kept(issue: Issue, name: str, language: str, read: Callable[[Json], T]) -> list[T]:
    """Rows in a language, or else in the first there is; none where somebody altered them into what nobody wrote.

    Only there: what stands as it was frozen and cannot be read is an error, never an empty list.
    """
    found = frozen(issue).get(name) or []
    if isinstance(found, dict):
        found = found.get(language) or next(iter(found.values()), [])
    try:
        return [read(one) for one in found]
    except (KeyError, TypeError, ValueError):
        if faults_of(issue):
            return []
        raise


def frozen(issue: Issue) -> Json:
    """What an issue froze; empty where somebody altered it into no document at all."""
    try:
        found = json.loads(issue.content)
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


def differs(issue: Issue, loop: Loop, seen: Seen | None = None) -> tuple[Difference, ...]:
    """What the record says now that the issue does not, or the other way round, in the reader's language.

    Parameters
    ----------
    seen : what the caller has found of the loop already.
    """
    spoken = language()
    # In the time in which it was frozen: another clock on the wall changes nothing of the record.
    return differences(kept_lines(issue, spoken), lines_in(loop, spoken, frozen(issue).get("zone", ""), seen))


def faults_of(issue: Issue) -> list[str]:
    """Codes of whatever about an issue or its signatures is not as it was made; none where nobody altered anything.

    What was printed and what was frozen is digested anew, the chain is followed from the first issue, and the trail,
    which is written beside them, is asked what it noted then.
    """
    faults = []
    before = GENESIS
    for row in Issue.objects.filter(loop=issue.loop_id, number__lte=issue.number).order_by("number"):
        content, pages = digest(row.content), digest(bytes(row.pdf))
        if content != row.content_sha256 or frozen(row).get("signers_wanted") != row.wants:
            faults.append("content_altered")
        if pages != row.pdf_sha256 or frozen(row).get("pages_sha256") != pages:
            faults.append("pages_altered")
        if _chain(row, before) != row.chain:
            faults.append("chain_broken")
        noted = Change.objects.filter(action=ISSUED, subject_id=row.loop_id, after__issue=str(row.pk)).first()
        if noted is None or not isinstance(noted.after, dict) or noted.after.get("chain") != row.chain:
            faults.append("not_as_noted")
        for signature in row.signatures.all():
            if (
                signature.signed != row.chain
                or seal_of(signature) != signature.seal
                or (not signature.is_erased and personal_of(signature) != signature.personal)
            ):
                faults.append("signature_altered")
        before = row.chain
    return list(dict.fromkeys(faults))


def personal_of(row: Signature) -> str:
    """The digest over who signed and how it was drawn."""
    return digest(canonical([row.salt, row.name, row.strokes]))


def seal_of(row: Signature) -> str:
    """The digest over everything of a signature; of who signed only its digest, so that a name can be erased."""
    said = [row.pk, row.issue_id, row.role, row.way, row.personal, row.reason, row.signed, row.moment, row.by_id]
    return digest(canonical([str(one) for one in said]))
