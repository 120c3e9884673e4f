"""Handing over as the API gives it: where a loop stands, its issues, who waits for whom."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, Prefetch

from accounts.models import User
from accounts.policy import EDIT, SIGN_OFF, may
from ember_core.handover.frozen import differences
from ember_core.handover.stages import ORDER, Stage, lacks_of, standing_of
from handover.models import Issue, Signature, Signer
from handover.services.issuing import differs, faults_of, frozen, kept_lines, kept_unusual
from handover.services.looking import is_own_work, unusual_answer, unusual_of, workers_at
from handover.services.pages import path_of
from handover.services.standing import facts_seen, is_asked_back, missing_signers, rules, waits_for
from loops.models import Loop
from loops.services.seen import Seen
from sites.access import visible
from survey.services.safety import name_of
from wording.texts import catalogue, fill, language

Json = dict[str, Any]
# So many of what waits are listed, one's own and the oldest first.
MOST_WAITING = 200
# Of a loop, what says nothing of its handing over.
NOT_TOLD = ("overall", "judged_on", "chosen", "load", "words", "plain_words")


def handover_answer(loop: Loop, who: User) -> Json:
    """Everything of the step."""
    texts = catalogue("handover")
    seen = Seen(loop)
    facts = seen.of(facts_seen)
    standing, lacks = standing_of(facts), lacks_of(facts)
    issues = list(issues_of(loop))
    newest = issues[0] if issues else None
    is_ready = standing.stage in (Stage.PROVED, Stage.HANDED_OVER)
    changed = [] if newest is None else [_difference(one, texts) for one in differs(newest, loop, seen)]
    return {
        "loop": loop.pk,
        "stage": standing.stage.value,
        "stage_text": texts["stages"][standing.stage.value],
        "stages": [
            {
                "stage": stage.value,
                "text": texts["stages"][stage.value],
                "is_met": not lacks[stage],
                # What stages after the next one want is nobody's business yet.
                "lacks": [texts["lacks"][lack.value] for lack in dict.fromkeys(lacks[stage])]
                if standing.next is None or ORDER.index(stage) <= ORDER.index(standing.next)
                else [],
            }
            for stage in ORDER
        ],
        "is_ready": is_ready,
        "may_issue": is_ready and may(who, EDIT) and (newest is None or bool(changed) or is_asked_back(newest)),
        "unusual": unusual_answer(unusual_of(loop, seen)),
        "issues": [_row(issue, texts) for issue in issues],
        "changed": changed,
        "rules": rules_answer(),
    }


def issues_of(loop: Loop) -> Any:
    """The issues of a loop, the newest first."""
    return Issue.objects.filter(loop=loop).select_related("by", "ask_back__by").prefetch_related("signatures__by")


def rules_answer() -> Json:
    """What the firm wants."""
    row = rules()
    return {
        "needs_checker": row.needs_checker,
        "needs_client": row.needs_client,
        "own_work": row.own_work,
        "contact": row.contact,
        "version": row.version,
    }


def _row(issue: Issue, texts: Json) -> Json:
    waits = waits_for(issue)
    return {
        "id": issue.pk,
        "number": issue.number,
        "note": issue.note,
        "at": issue.at,
        "by": name_of(issue.by),
        "waits": waits,
        "waits_text": texts["waits"][waits],
        "signatures": [_signature(row, texts) for row in issue.signatures.all()],
        "asked_back": None
        if not is_asked_back(issue)
        else {"note": issue.ask_back.note, "by": name_of(issue.ask_back.by), "at": issue.ask_back.at},
    }


def _signature(row: Signature, texts: Json) -> Json:
    return {
        "role": row.role,
        "role_text": texts["signers"][row.role],
        "way": row.way,
        "way_text": texts["ways"][row.way],
        "name": texts["erased"] if row.is_erased else row.name,
        "reason": row.reason,
        "at": row.at,
        "by": name_of(row.by),
        "paths": [path_of(stroke) for stroke in row.strokes],
    }


def issue_answer(issue: Issue, who: User) -> Json:
    """One issue: its lines, what is new in it, whether anybody altered it, and what its reader may do."""
    texts, spoken = catalogue("handover"), language()
    lines = kept_lines(issue, spoken)
    before = Issue.objects.filter(loop=issue.loop_id, number__lt=issue.number).first()
    newest = Issue.objects.filter(loop=issue.loop_id).values_list("number", flat=True).first()
    content = frozen(issue)
    faults = faults_of(issue)
    missing = missing_signers(issue)
    is_open = newest == issue.number and not faults and not is_asked_back(issue)
    is_own = is_own_work(who, issue.loop)
    return {
        **_row(issue, texts),
        "loop": issue.loop_id,
        "loop_name": issue.loop.name,
        "site_name": issue.loop.site.name,
        "chain": issue.chain,
        "core_version": content.get("core_version", ""),
        "unusual": unusual_answer(kept_unusual(issue, spoken)),
        "lines": [{"section": line.section, "label": line.label, "value": line.value} for line in lines],
        "new": []
        if before is None
        else [_difference(one, texts) for one in differences(kept_lines(before, spoken), lines)],
        "before": None if before is None else before.number,
        "later": newest if newest != issue.number else None,
        "faults": [texts["faults"][code] for code in faults],
        "missing": [
            {"role": role.value, "text": texts["signers"][role.value], "may": is_open and _may_sign(who, role, is_own)}
            for role in missing
        ],
        "is_own_work": is_own and may(who, SIGN_OFF) and not rules().own_work,
        "may_ask_back": is_open and may(who, SIGN_OFF) and Signer.CHECKER in missing,
    }


def _may_sign(who: User, role: Signer, is_own: bool) -> bool:
    if role is Signer.CHECKER:
        return may(who, SIGN_OFF) and (rules().own_work or not is_own)
    return may(who, EDIT) or (role is Signer.CLIENT and may(who, SIGN_OFF))


def _difference(one: Any, texts: Json) -> Json:
    return {
        "change": one.change.value,
        "section": one.section,
        "label": one.label,
        "text": fill(texts["changes"][one.change.value], {"before": one.before, "after": one.after}),
    }


def board_answer(who: User) -> Json:
    """How many loops stand where, and which wait for whom; only of sites where the reader works."""
    texts = catalogue("handover")
    loops = visible(Loop, who)
    counts = dict(loops.order_by().values_list("stage").annotate(count=Count("pk")))
    # What was handed over waits for nobody: its newest issue has every signature that it wants.
    newest = {
        issue.loop_id: issue
        for issue in visible(Issue, who)
        .exclude(loop__stage=Stage.HANDED_OVER)
        .defer("content", "pdf")
        .select_related("by", "ask_back__by", "loop__site")
        .prefetch_related(Prefetch("signatures", Signature.objects.only("issue", "role")))
        .order_by("number")
    }
    proved = loops.filter(stage=Stage.PROVED, issues__isnull=True).select_related("site").defer(*NOT_TOLD)
    open_ones: list[tuple[Loop, Issue | None, str]] = [(loop, None, "issue") for loop in proved]
    open_ones += [(issue.loop, issue, waits) for issue in newest.values() if (waits := waits_for(issue)) != "nothing"]
    is_checker, own_too = may(who, SIGN_OFF), rules().own_work
    to_check = [loop for loop, _, waits in open_ones if waits == "checker"] if is_checker and not own_too else []
    own = {loop_pk for loop_pk, people in workers_at(to_check).items() if who.pk in people}
    waiting = []
    for loop, issue, waits in open_ones:
        is_mine = {
            "checker": is_checker and loop.pk not in own,
            "answer": issue is not None and issue.by_id == who.pk,
        }.get(waits, may(who, EDIT))
        waiting.append(_waiting(loop, issue, waits, texts, is_mine=is_mine))
    waiting.sort(key=lambda one: (not one["is_mine"], one["since"]))
    return {
        "stages": [
            {"stage": stage.value, "text": texts["stages"][stage.value], "count": counts.get(stage.value, 0)}
            for stage in Stage
        ],
        "waiting": waiting[:MOST_WAITING],
        "waiting_count": len(waiting),
    }


def _waiting(loop: Loop, issue: Issue | None, waits: str, texts: Json, *, is_mine: bool) -> Json:
    return {
        "loop": loop.pk,
        "loop_name": loop.name,
        "site_name": loop.site.name,
        "zone": loop.site.zone,
        "issue": None if issue is None else issue.pk,
        "number": None if issue is None else issue.number,
        "waits": waits,
        "text": texts["waits"][waits],
        "note": issue.ask_back.note if issue is not None and is_asked_back(issue) else "",
        "since": loop.changed_at if issue is None else issue.at,
        "by": "" if issue is None else name_of(issue.by),
        "is_mine": is_mine,
    }
