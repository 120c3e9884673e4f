"""Serializers of the survey: what comes in, and what the answer holds."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from ember_core.complaint import Agreement
from ember_core.survey.isolation import Charge, EventKind, ProofState, Scope, Step
from ember_core.survey.next_reading import Why
from ember_core.survey.visit import Complaint
from instruments import stand_ins
from judging.verdicts import VerdictWord
from survey.models import MOST_PLACE, Moment, Origin
from survey.services.metering import FUNCTIONS

PRESENCE = ("present", "absent", "foreign", "unknown")
CERTAINTY = ("sure", "likely", "open")
POSITIONS = ("on", "off")
STEPS = tuple(step.value for step in Step)
SCOPES = tuple(scope.value for scope in Scope)
EVENT_KINDS = tuple(kind.value for kind in EventKind)
CHARGES = tuple(charge.value for charge in Charge)
WHYS = tuple(why.value for why in Why)
PROOF_STATES = tuple(state.value for state in ProofState)
FITS = ("fits", "fits_with_spacer", "does_not_fit", "unknown")


class PlaceField(serializers.IntegerField):
    """Which box of the loop; the first where nothing is said."""

    def __init__(self, **more: Any) -> None:
        super().__init__(min_value=1, max_value=MOST_PLACE, default=1, **more)


class CodeTextSerializer(serializers.Serializer):
    """A code with its sentence."""

    code = serializers.CharField()
    text = serializers.CharField()


class NoteSerializer(CodeTextSerializer):
    """A finding of the survey in words."""

    severity = serializers.CharField()
    refs = serializers.ListField(child=serializers.CharField())


class VisitSerializer(serializers.Serializer):
    """The pre-visit sheet."""

    hint = NoteSerializer()
    ask = CodeTextSerializer(many=True)
    bring = CodeTextSerializer(many=True)
    notes = NoteSerializer(many=True)


class OtherRoleSerializer(serializers.Serializer):
    """A role that is not excluded."""

    text = serializers.CharField()
    share_ratio = serializers.FloatField()


class BelievedSerializer(serializers.Serializer):
    """What is believed of a conductor."""

    conductor = serializers.CharField()
    role = serializers.CharField()
    gang = serializers.IntegerField(allow_null=True)
    text = serializers.CharField()
    share_ratio = serializers.FloatField()
    certainty = serializers.ChoiceField(choices=CERTAINTY)
    is_read = serializers.BooleanField()
    others = OtherRoleSerializer(many=True)


class PresenceSerializer(serializers.Serializer):
    """Whether the box holds a neutral, or an earth."""

    verdict = serializers.ChoiceField(choices=PRESENCE)
    word = serializers.CharField()
    text = serializers.CharField()
    conductors = serializers.ListField(child=serializers.CharField())


class ProposalSerializer(serializers.Serializer):
    """The reading that settles most."""

    a = serializers.CharField()
    b = serializers.CharField()
    supply_on = serializers.BooleanField()
    meter_r_ohm = serializers.FloatField(allow_null=True)
    switches = serializers.DictField(child=serializers.CharField())
    gain_ratio = serializers.FloatField()
    text = serializers.CharField()
    why = serializers.ChoiceField(choices=WHYS)
    why_text = serializers.CharField()


class BoxJudgementSerializer(serializers.Serializer):
    """What is known of the box."""

    is_known = serializers.BooleanField()
    conductors = BelievedSerializer(many=True)
    sides = serializers.ListField(child=serializers.CharField(allow_null=True))
    neutral = PresenceSerializer()
    earth = PresenceSerializer()
    opens_routes = serializers.BooleanField()
    findings = NoteSerializer(many=True)
    next_dead = ProposalSerializer(allow_null=True)
    next_live = ProposalSerializer(allow_null=True)


class DepthSerializer(serializers.Serializer):
    """The depth check."""

    fit = serializers.ChoiceField(choices=FITS)
    text = serializers.CharField()
    needed_m = serializers.FloatField()
    available_m = serializers.FloatField(allow_null=True)
    spare_m = serializers.FloatField(allow_null=True)
    spacer_m = serializers.FloatField(allow_null=True)
    conductor_volume_m3 = serializers.FloatField()
    free_volume_m3 = serializers.FloatField(allow_null=True)
    missing = serializers.ListField(child=serializers.CharField())
    rule = serializers.CharField()


class TakenSerializer(serializers.Serializer):
    """When, by whom and with what a value was taken; `made_at` is the device's time, `at` when it arrived."""

    id = serializers.UUIDField()
    origin = serializers.ChoiceField(choices=Origin.choices)
    meter_identity = serializers.CharField()
    is_simulated = serializers.BooleanField()
    made_at = serializers.DateTimeField(allow_null=True)
    at = serializers.DateTimeField()
    by = serializers.CharField()


class TakenReadingSerializer(TakenSerializer):
    """A reading on record."""

    a = serializers.CharField()
    b = serializers.CharField()
    from_text = serializers.CharField()
    to_text = serializers.CharField()
    value_text = serializers.CharField()
    at_text = serializers.CharField()
    is_low_impedance = serializers.BooleanField()
    supply_on = serializers.BooleanField()
    struck_reason = serializers.CharField()


class PairSerializer(serializers.Serializer):
    """A pair to be proved dead."""

    a = serializers.CharField()
    b = serializers.CharField()
    text = serializers.CharField()


class ProofEventSerializer(TakenSerializer):
    """One thing done while proving, in its order."""

    kind = serializers.ChoiceField(choices=EVENT_KINDS)
    text = serializers.CharField()
    v = serializers.FloatField(allow_null=True)
    is_live = serializers.BooleanField()


class ProofSerializer(serializers.Serializer):
    """Proving a box dead, once."""

    id = serializers.UUIDField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    ended_at = serializers.DateTimeField(allow_null=True)
    ended_text = serializers.CharField()
    conductors = serializers.ListField(child=serializers.CharField())
    is_tester_proved_before = serializers.BooleanField()
    is_tester_proved_after = serializers.BooleanField()
    is_charge_recorded = serializers.BooleanField()
    events = ProofEventSerializer(many=True)
    next_pairs = PairSerializer(many=True)


class ProofStandsSerializer(serializers.Serializer):
    """Where proving this box dead stands, at the moment of the answer."""

    state = serializers.ChoiceField(choices=PROOF_STATES)
    missing = NoteSerializer(many=True)
    dead_limit_v = serializers.FloatField()
    lasts_s = serializers.FloatField()
    is_control_fitted = serializers.BooleanField()
    is_simulated = serializers.BooleanField()
    current = ProofSerializer(allow_null=True)
    pairs = PairSerializer(many=True)
    holds_until = serializers.DateTimeField(allow_null=True)


class LockSerializer(serializers.Serializer):
    """A person's lock."""

    id = serializers.UUIDField()
    person = serializers.CharField()
    is_mine = serializers.BooleanField()
    is_on = serializers.BooleanField()
    loop_name = serializers.CharField()
    put_at = serializers.DateTimeField()
    off_at = serializers.DateTimeField(allow_null=True)
    off_by = serializers.CharField()
    off_reason = serializers.CharField()


class DarkLoopSerializer(serializers.Serializer):
    """A loop that an isolation keeps dark."""

    id = serializers.UUIDField()
    name = serializers.CharField()


class IsolationSerializer(serializers.Serializer):
    """One isolation on record."""

    id = serializers.UUIDField()
    site = serializers.UUIDField()
    scope = serializers.ChoiceField(choices=SCOPES)
    circuits = serializers.ListField(child=serializers.UUIDField())
    breakers = serializers.ListField(child=serializers.CharField())
    loop = serializers.UUIDField()
    loop_name = serializers.CharField()
    opened_at = serializers.DateTimeField()
    opened_by = serializers.CharField()
    closed_at = serializers.DateTimeField(allow_null=True)
    closed_by = serializers.CharField()
    closing_note = serializers.CharField()
    locks = LockSerializer(many=True)
    is_locked = serializers.BooleanField()
    is_mine = serializers.BooleanField()
    loops = DarkLoopSerializer(many=True)


class OpenIsolationSerializer(IsolationSerializer):
    """An open isolation on the board, with its site."""

    site_name = serializers.CharField()
    zone = serializers.CharField(allow_blank=True, help_text="of its site; empty: UTC")


class StepSerializer(serializers.Serializer):
    """A step at the box."""

    step = serializers.ChoiceField(choices=STEPS)
    text = serializers.CharField()
    is_done = serializers.BooleanField()
    at = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField()
    override_reason = serializers.CharField()
    missing = NoteSerializer(many=True)
    may_override = serializers.BooleanField()


class BoxPlaceSerializer(serializers.Serializer):
    """One of the boxes of a loop."""

    place = serializers.IntegerField()
    name = serializers.CharField()
    is_begun = serializers.BooleanField()
    is_known = serializers.BooleanField()
    travellers_m = serializers.FloatField(allow_null=True)


class PhotoSerializer(serializers.Serializer):
    """A photograph."""

    id = serializers.UUIDField()
    moment = serializers.ChoiceField(choices=Moment.choices)
    caption = serializers.CharField()
    url = serializers.CharField()
    width_px = serializers.IntegerField()
    height_px = serializers.IntegerField()
    at = serializers.DateTimeField()
    by = serializers.CharField()


class BoxCircuitSerializer(serializers.Serializer):
    """A breaker whose circuit comes into the box."""

    id = serializers.UUIDField()
    breaker = serializers.CharField()
    label_as_found = serializers.CharField()
    label_now = serializers.CharField()
    feeds = serializers.CharField()


class CautionTextSerializer(CodeTextSerializer):
    """A caution in the region's words."""


class SurveySerializer(serializers.Serializer):
    """Everything about one box of a loop."""

    loop = serializers.UUIDField()
    place = serializers.IntegerField()
    name = serializers.CharField()
    boxes = BoxPlaceSerializer(many=True)
    version = serializers.IntegerField()
    enquiry = serializers.DictField(child=serializers.JSONField(allow_null=True))
    visit = VisitSerializer()
    box = serializers.DictField(child=serializers.JSONField(allow_null=True))
    practice = serializers.CharField()
    control_body = serializers.DictField(child=serializers.FloatField(), allow_null=True)
    spacers_m = serializers.ListField(child=serializers.FloatField())
    travellers_m = serializers.FloatField(allow_null=True)
    circuits = BoxCircuitSerializer(many=True)
    judgement = BoxJudgementSerializer()
    depth = DepthSerializer(allow_null=True)
    readings = TakenReadingSerializer(many=True)
    isolations = IsolationSerializer(many=True)
    past_isolations = IsolationSerializer(many=True)
    is_off = serializers.BooleanField()
    cover_missing = NoteSerializer(many=True)
    proof = ProofStandsSerializer()
    past_proofs = ProofSerializer(many=True)
    steps = StepSerializer(many=True)
    photos = PhotoSerializer(many=True)
    cautions = CautionTextSerializer(many=True)
    may_release = serializers.BooleanField()
    answered_at = serializers.DateTimeField()


class SurveySaveSerializer(serializers.Serializer):
    """The documents of a survey, and the version they were made from; the core checks them."""

    version = serializers.IntegerField(min_value=0)
    place = PlaceField()
    name = serializers.CharField(max_length=80, allow_blank=True, default="")
    enquiry = serializers.DictField(child=serializers.JSONField(allow_null=True))
    box = serializers.DictField(child=serializers.JSONField(allow_null=True))
    practice = serializers.CharField(max_length=40, allow_blank=True, default="")
    control_body = serializers.DictField(child=serializers.FloatField(allow_null=True), allow_null=True, default=None)
    spacers_m = serializers.ListField(child=serializers.FloatField(), max_length=12, default=list)
    travellers_m = serializers.FloatField(allow_null=True, default=None)
    other_circuits = serializers.ListField(child=serializers.UUIDField(), max_length=6, default=list)


class ReadingTakeSerializer(serializers.Serializer):
    """A new reading; its identity is the sender's, so that sending it twice keeps it once."""

    id = serializers.UUIDField()
    place = PlaceField()
    meter_value = serializers.UUIDField(allow_null=True, default=None)
    made_at = serializers.DateTimeField(allow_null=True, default=None)
    a = serializers.CharField(max_length=40)
    b = serializers.CharField(max_length=40)
    v = serializers.FloatField(allow_null=True, default=None)
    r_ohm = serializers.FloatField(allow_null=True, default=None)
    is_open = serializers.BooleanField(default=False)
    meter_r_ohm = serializers.FloatField(allow_null=True, default=None)
    supply_on = serializers.BooleanField(default=True)
    switches = serializers.DictField(child=serializers.ChoiceField(choices=POSITIONS), default=dict)


class ReasonSerializer(serializers.Serializer):
    """Why a reading is struck out."""

    reason = serializers.CharField(max_length=200)


class IsolationOpenSerializer(serializers.Serializer):
    """A new isolation; its identity is the sender's."""

    id = serializers.UUIDField()
    scope = serializers.ChoiceField(choices=SCOPES)
    circuits = serializers.ListField(child=serializers.UUIDField(), max_length=12, default=list)
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class LockPutSerializer(serializers.Serializer):
    """One's own lock, and where one works under it."""

    id = serializers.UUIDField()
    loop = serializers.UUIDField()


class LockOffSerializer(serializers.Serializer):
    """Taking a lock off; the reason is needed for another person's."""

    reason = serializers.CharField(max_length=300, allow_blank=True, default="")


class EnergiseSerializer(serializers.Serializer):
    """Putting the power back; the identity is of this entry."""

    id = serializers.UUIDField()
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class ProofEventAddSerializer(serializers.Serializer):
    """One event of proving dead; `proof` is the sender's identity for the whole of it."""

    id = serializers.UUIDField()
    proof = serializers.UUIDField()
    place = PlaceField()
    kind = serializers.ChoiceField(choices=EVENT_KINDS)
    a = serializers.CharField(max_length=40, allow_blank=True, default="")
    b = serializers.CharField(max_length=40, allow_blank=True, default="")
    v = serializers.FloatField(allow_null=True, default=None)
    charge = serializers.ChoiceField(choices=CHARGES, allow_blank=True, default="")
    meter_value = serializers.UUIDField(allow_null=True, default=None)
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class NoticeSerializer(serializers.Serializer):
    """Something its reader must know."""

    id = serializers.UUIDField()
    code = serializers.CharField()
    text = serializers.CharField()
    at = serializers.DateTimeField()


class StepMarkSerializer(serializers.Serializer):
    """A step done, or the mark taken back; a reason where a gate that may be overridden is closed."""

    id = serializers.UUIDField()
    place = PlaceField()
    step = serializers.ChoiceField(choices=STEPS)
    is_done = serializers.BooleanField()
    override_reason = serializers.CharField(max_length=300, allow_blank=True, default="")


class PhotoTakeSerializer(serializers.Serializer):
    """A photograph from a file or a camera."""

    id = serializers.UUIDField()
    place = PlaceField()
    moment = serializers.ChoiceField(choices=Moment.choices)
    caption = serializers.CharField(max_length=200, allow_blank=True, default="")
    file = serializers.FileField()


class MeterReadSerializer(serializers.Serializer):
    """What the meter is asked for."""

    function = serializers.ChoiceField(choices=FUNCTIONS)
    place = PlaceField()
    a = serializers.CharField(max_length=40)
    b = serializers.CharField(max_length=40)
    meter_r_ohm = serializers.FloatField(min_value=1e5, max_value=1e8, default=1e7)
    switches = serializers.DictField(child=serializers.ChoiceField(choices=POSITIONS), default=dict)


class MeterValueSerializer(serializers.Serializer):
    """What the meter shows, and the identity under which a record can claim it."""

    id = serializers.UUIDField()
    identity = serializers.CharField()
    is_simulated = serializers.BooleanField()
    v = serializers.FloatField(allow_null=True)
    r_ohm = serializers.FloatField(allow_null=True)
    is_open = serializers.BooleanField()
    i_a = serializers.FloatField(allow_null=True)
    meter_r_ohm = serializers.FloatField(allow_null=True)
    supply_on = serializers.BooleanField()


class MeterSerializer(serializers.Serializer):
    """The meter of this copy."""

    identity = serializers.CharField()
    is_there = serializers.BooleanField()
    is_stand_in = serializers.BooleanField()
    fault = serializers.ChoiceField(choices=stand_ins.meter().FAULTS)
    faults = serializers.ListField(child=serializers.CharField())


class MeterFaultSerializer(serializers.Serializer):
    """The stand-in's fault switch."""

    fault = serializers.ChoiceField(choices=stand_ins.meter().FAULTS)


class ChoiceSerializer(serializers.Serializer):
    """One entry of a list to choose from."""

    value = serializers.CharField()
    text = serializers.CharField()


class PracticeSerializer(ChoiceSerializer):
    """A wiring practice with the conductors it draws for the first gang."""

    ways = serializers.CharField()
    conductors = serializers.ListField(child=serializers.DictField(child=serializers.JSONField(allow_null=True)))
    usual = serializers.ListField(child=serializers.CharField())


class SurveyChoicesSerializer(serializers.Serializer):
    """Everything the survey's forms choose from, in the region's words."""

    colours = ChoiceSerializer(many=True)
    roles = ChoiceSerializer(many=True)
    terminals = serializers.DictField(child=ChoiceSerializer(many=True))
    ways = ChoiceSerializer(many=True)
    positions = serializers.DictField(child=serializers.CharField())
    materials = ChoiceSerializer(many=True)
    earths = ChoiceSerializer(many=True)
    references = ChoiceSerializer(many=True)
    complaints = ChoiceSerializer(many=True)
    radios = ChoiceSerializer(many=True)
    lamps = ChoiceSerializer(many=True)
    practices = PracticeSerializer(many=True)


class BeforeSerializer(serializers.Serializer):
    """The state before a cure."""

    at = serializers.DateTimeField()
    verdict = serializers.ChoiceField(choices=VerdictWord.choices)
    title = serializers.CharField()
    figures = serializers.CharField()


class ComplaintSerializer(serializers.Serializer):
    """The complaint of a loop beside what is computed of it as it was found."""

    complaint = serializers.ChoiceField(choices=[(word.value, word.value) for word in Complaint])
    complaint_text = serializers.CharField()
    agreement = serializers.ChoiceField(choices=[(word.value, word.value) for word in Agreement], allow_null=True)
    text = serializers.CharField(allow_blank=True)
    before = BeforeSerializer(allow_null=True)
