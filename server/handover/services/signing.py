"""Signing an issue, and asking back."""

from __future__ import annotations

import secrets
from datetime import UTC
from typing import Any

from django.db import transaction
from django.utils import timezone

from accounts.models import User
from accounts.policy import EDIT, SIGN_OFF, may
from audit import trail
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core.handover.stages import Stage
from handover.models import AskBack, Issue, Signature, Signer, Way
from handover.services.issuing import faults_of, personal_of, seal_of
from handover.services.looking import is_own_work
from handover.services.standing import is_asked_back, loop_standing, rules
from loops.models import Loop
from loops.services.seen import Seen
from proving.models import Case
from proving.services.listing import prove_seen
from survey.services.notices import tell

Json = dict[str, Any]
SHORTEST_REASON = 5
FIELD_WIDTH, FIELD_HEIGHT = 1000.0, 400.0
MOST_POINTS, LEAST_POINTS = 6000, 8


def held_issue(pk: Any) -> Issue:
    """An issue held for a change together with its loop: the newest of its loop, with nothing altered.

    Raises
    ------
    Problem : a later one was made, or somebody altered it.
    """
    issue = Issue.objects.select_related("by").get(pk=pk)
    issue.loop = Loop.objects.select_for_update().select_related("site", "circuit").get(pk=issue.loop_id)
    newest = Issue.objects.filter(loop=issue.loop_id).values_list("number", flat=True).first()
    if newest != issue.number:
        raise Problem(409, "later_issue", path="", number=newest)
    if faults_of(issue):
        raise Problem(409, "issue_altered", path="")
    return issue


def sign(who: User, issue_pk: Any, given: Json) -> Signature:
    """Sign; the same entry twice is one signature.

    Parameters
    ----------
    given : `id`, `role`, `way`, `chain` of what the signer was shown, and by the way `strokes`, `password` or `reason`;
        `name` of a client.

    Raises
    ------
    Problem : not their role, their own work, signed already, asked back, other parts since, another issue than they
        were shown, nothing drawn, a wrong password, no name, no reason.
    """
    with transaction.atomic():
        # What arrived before is kept, whatever was issued since.
        if (known := _known(issue_pk, given)) is not None:
            return known
        issue = held_issue(issue_pk)
        # Sent again, it waited here until the first one was kept.
        if (known := _known(issue_pk, given)) is not None:
            return known
        role, way = Signer(given["role"]), Way(given["way"])
        _check(who, issue, role, way, given)
        row = Signature(
            pk=given["id"],
            issue=issue,
            role=role,
            way=way,
            name=given["name"].strip() if role is Signer.CLIENT else str(who),
            strokes=given["strokes"] if way is Way.DRAWN else [],
            reason=given["reason"].strip(),
            signed=issue.chain,
            moment=timezone.now().astimezone(UTC).isoformat(timespec="seconds"),
            by=who,
        )
        row.salt = secrets.token_hex(16)
        row.personal = personal_of(row)
        row.seal = seal_of(row)
        row.save(force_insert=True)
        trail.record(
            who,
            "signed",
            issue.loop,
            # A client's name stands in the signature alone, where it can be erased.
            after={
                "number": issue.number,
                "role": role.value,
                "name": "" if role is Signer.CLIENT else row.name,
                "way": way.value,
                "seal": row.seal,
            },
        )
        update_loop(issue.loop)
    return row


def _known(issue_pk: Any, given: Json) -> Signature | None:
    known = Signature.objects.filter(pk=given["id"]).first()
    if known is not None and (str(known.issue_id), known.role) != (str(issue_pk), given["role"]):
        raise Problem(409, "entry_differs", path="id")
    return known


def _check(who: User, issue: Issue, role: Signer, way: Way, given: Json) -> None:
    if given["chain"] != issue.chain:
        raise Problem(409, "another_issue_shown", path="chain")
    if is_asked_back(issue):
        raise Problem(409, "asked_back", path="")
    _check_still_proved(issue)
    if issue.signatures.filter(role=role).exists():
        raise Problem(409, "signed_already", path="role")
    if role is Signer.CHECKER:
        if not may(who, SIGN_OFF):
            raise Problem(403, "not_allowed")
        if not rules().own_work and is_own_work(who, issue.loop):
            raise Problem(422, "own_work", path="role")
    elif not may(who, EDIT) and not (role is Signer.CLIENT and may(who, SIGN_OFF)):
        raise Problem(403, "not_allowed")
    if role is Signer.CLIENT and way is not Way.ABSENT and not given["name"].strip():
        raise Problem(422, "name_needed", path="name")
    if way is Way.ABSENT:
        if role is not Signer.CLIENT:
            raise Problem(422, "only_clients_are_absent", path="way")
        if len(given["reason"].strip()) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="reason", least=SHORTEST_REASON)
    elif way is Way.PASSWORD:
        # A client has none here.
        if role is Signer.CLIENT or not who.check_password(given["password"]):
            raise Problem(422, "wrong_password", path="password")
    else:
        _check_strokes(given["strokes"])


def _check_still_proved(issue: Issue) -> None:
    """Nobody signs for what hangs there no more, is complained of, or failed since; each is told as what it is."""
    seen = Seen(issue.loop)
    if seen.of(prove_seen).basis != issue.basis:
        raise Problem(409, "record_changed", path="")
    if loop_standing(issue.loop, seen).stage in (Stage.PROVED, Stage.HANDED_OVER):
        return
    complaint = Case.objects.filter(loop=issue.loop, is_open=True).select_related("by").first()
    if complaint is not None:
        raise Problem(409, "complaint_open", path="", who=str(complaint.by), number=complaint.number)
    raise Problem(409, "not_proved_since", path="")


def _check_strokes(strokes: list[list[list[float]]]) -> None:
    """Something was drawn, and it stays in its field."""
    points = [point for stroke in strokes for point in stroke]
    if len(points) < LEAST_POINTS:
        raise Problem(422, "nothing_drawn", path="strokes")
    if len(points) > MOST_POINTS:
        raise Problem(422, "too_many", path="strokes", most=MOST_POINTS)
    if any(len(p) != 2 or not (0.0 <= p[0] <= FIELD_WIDTH and 0.0 <= p[1] <= FIELD_HEIGHT) for p in points):
        raise Problem(422, "nothing_drawn", path="strokes")


def _known_question(issue_pk: Any, key: Any, note: str) -> AskBack | None:
    known = AskBack.objects.filter(pk=key).first()
    if known is not None and (str(known.issue_id), known.note) != (str(issue_pk), note):
        raise Problem(409, "entry_differs", path="id")
    return known


def ask_back(who: User, issue_pk: Any, given: Json) -> AskBack:
    """Do not sign, and say what is wanted first; it reaches whoever made the issue.

    Parameters
    ----------
    given : `id`, `note`.

    Raises
    ------
    Problem : signed already, nothing said, or the same identity with something else.
    """
    with transaction.atomic():
        note = given["note"].strip()
        # What arrived before is kept, whatever was issued since.
        if (known := _known_question(issue_pk, given["id"], note)) is not None:
            return known
        issue = held_issue(issue_pk)
        # Sent again, it waited here until the first one was kept.
        if (known := _known_question(issue_pk, given["id"], note)) is not None:
            return known
        if len(note) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="note", least=SHORTEST_REASON)
        if is_asked_back(issue):
            raise Problem(409, "asked_back", path="")
        if issue.signatures.filter(role=Signer.CHECKER).exists():
            raise Problem(409, "signed_already", path="role")
        row = AskBack.objects.create(pk=given["id"], issue=issue, note=note, by=who)
        tell(issue.by, "asked_back", who=str(who), loop=issue.loop.name, number=str(issue.number), note=note)
        trail.record(who, "asked back", issue.loop, after={"number": issue.number, "note": note})
        update_loop(issue.loop)
    return row
