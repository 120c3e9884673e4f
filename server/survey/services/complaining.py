"""The complaint of a loop, beside what is computed of the loop as it was found; and the state before a cure."""

from __future__ import annotations

from typing import Any

from ember_core.complaint import Compared, compare, concerns_off_state
from ember_core.errors import InputErrors, SolverError
from ember_core.survey.document import read_enquiry
from ember_core.survey.visit import Enquiry
from judgements.models import Judgement
from judging.services.judging import missing_parts
from judging.services.spreading import complete
from judging.services.words import verdict_words
from judging.verdicts import VerdictWord
from loops.documents import gang_document, sheet_of
from loops.models import FitStatus, Gang, Loop
from survey.services.documents import survey_of
from survey.services.words import Words
from wording.quantities import with_unit
from wording.texts import catalogue, fill

Json = dict[str, Any]
# States that a cure is for.
_ILL = (VerdictWord.GLOW, VerdictWord.BLINK, VerdictWord.STARVED, VerdictWord.MARGINAL)
# What a cure leads to; what is not known is no cure.
_WELL = (VerdictWord.DARK, VerdictWord.CLOSE)


def as_found(document: Json) -> Json | None:
    """A gang with the parts that are fitted; None where control or lamps that were there are not recorded so."""
    fitted = FitStatus.FITTED
    control = document["control"]
    if control is None or control["status"] != fitted or not document["lamps"]:
        return None
    if any(item["status"] != fitted for item in document["lamps"]):
        return None
    return {**document, "bypasses": [item for item in document["bypasses"] if item["status"] == fitted]}


def told(loop: Loop) -> Enquiry:
    """What was learned of a loop by telephone."""
    return read_enquiry(survey_of(loop).enquiry)


def complaint_text(enquiry: Enquiry, region: str) -> str:
    """The complaint in words, with the rhythm where one was told."""
    text = Words(region).text("complaints", enquiry.complaint.value)
    if enquiry.flash_period_s is None:
        return text
    texts = catalogue("complaint")
    return fill(texts["with_period"], {"complaint": text, "period": with_unit(enquiry.flash_period_s, "s")})


def complaint_answer(gang: Gang, document: Json) -> Json:
    """The complaint beside a draft of the gang as it was found.

    Raises
    ------
    InputErrors, SolverError : see core.
    """
    enquiry = told(gang.loop)
    texts = catalogue("complaint")
    answer: Json = {
        "complaint": enquiry.complaint.value,
        "complaint_text": complaint_text(enquiry, gang.loop.site.region),
        "agreement": None,
        "text": "",
        "before": before(gang),
    }
    if not concerns_off_state(enquiry.complaint):
        return answer
    found = as_found(document)
    sheet = None if found is None else sheet_of(found, gang.loop.site, "as found")
    if sheet is None or missing_parts(sheet):
        return {**answer, "text": texts["not_recorded"]}
    compared = compare(enquiry.complaint, enquiry.flash_period_s, complete(sheet))
    return {**answer, "agreement": compared.agreement.value, "text": _said(compared, texts)}


def _said(compared: Compared, texts: Json) -> str:
    params: Json = {"doing_count": compared.doing_count, "sample_count": compared.sample_count}
    text = fill(texts[compared.agreement.value], params)
    if compared.period_s is None:
        return text
    low, high = with_unit(compared.period_s.p05, "s"), with_unit(compared.period_s.p95, "s")
    return f"{text} {fill(texts['rhythm'], {'low': low, 'high': high})}"


def before(gang: Gang) -> Json | None:
    """The state before the cure: the first judgement that found the gang ill, where the last finds it well."""
    rows = list(Judgement.objects.filter(gang=gang).order_by("made_at", "id"))
    first = next((row for row in rows if row.verdict in _ILL), None)
    if first is None or rows[-1].verdict not in _WELL:
        return None
    words = verdict_words(first.verdict, is_switch="standby" not in first.sheet.get("control", {}))
    return {"at": first.made_at, "verdict": first.verdict, "title": words["title"], "figures": _figures(first.result)}


def _figures(result: Json) -> str:
    """Volts, amperes and rhythm of a stored judgement."""
    periods = [lamp["flash_period_s"] for lamp in result["lamps"] if lamp["flash_period_s"]]
    said = [with_unit(result["lamp_v_rms"], "V"), with_unit(result["line_i_rms_a"], "A")]
    if periods:
        said.append(fill(catalogue("complaint")["every"], {"period": with_unit(min(periods), "s")}))
    return ", ".join(said)


def complaint_of_record(gang: Gang) -> Json | None:
    """For paper: the complaint beside the record; None where nobody complained of the light off."""
    if not concerns_off_state(told(gang.loop).complaint):
        return None
    try:
        return complaint_answer(gang, gang_document(gang))
    except (InputErrors, SolverError):
        # A sheet is printed all the same; what could not be compared is not on it.
        return None
