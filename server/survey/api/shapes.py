"""Serializers of the survey: what comes in, and what the answer holds."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.survey.isolation import Scope, Step
from standins.meter_server import FAULTS
from survey.models import Moment, Origin
from survey.services.metering import FUNCTIONS

PRESENCE = ("present", "absent", "foreign", "unknown")
CERTAINTY = ("sure", "likely", "open")
POSITIONS = ("on", "off")
STEPS = tuple(step.value for step in Step)
SCOPES = tuple(scope.value for scope in Scope)
FITS = ("fits", "fits_with_spacer", "does_not_fit", "unknown")


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


class TakenReadingSerializer(serializers.Serializer):
    """A reading on record."""

    id = serializers.UUIDField()
    a = serializers.CharField()
    b = serializers.CharField()
    from_text = serializers.CharField()
    to_text = serializers.CharField()
    value_text = serializers.CharField()
    at_text = serializers.CharField()
    is_low_impedance = serializers.BooleanField()
    supply_on = serializers.BooleanField()
    origin = serializers.ChoiceField(choices=Origin.choices)
    at = serializers.DateTimeField()
    by = serializers.CharField()
    struck_reason = serializers.CharField()


class PairSerializer(serializers.Serializer):
    """A pair to be proved dead."""

    a = serializers.CharField()
    b = serializers.CharField()
    text = serializers.CharField()
    v = serializers.FloatField(allow_null=True)


class IsolationSerializer(serializers.Serializer):
    """One isolation on record."""

    id = serializers.UUIDField()
    scope = serializers.ChoiceField(choices=SCOPES)
    circuits = serializers.ListField(child=serializers.UUIDField())
    breakers = serializers.ListField(child=serializers.CharField())
    is_locked_off = serializers.BooleanField()
    is_tester_proved_before = serializers.BooleanField()
    is_tester_proved_after = serializers.BooleanField()
    has_electronic_control = serializers.BooleanField()
    is_discharged = serializers.BooleanField()
    is_open = serializers.BooleanField()
    opened_at = serializers.DateTimeField()
    opened_by = serializers.CharField()
    closed_at = serializers.DateTimeField(allow_null=True)
    closed_by = serializers.CharField()
    closing_note = serializers.CharField()
    version = serializers.IntegerField()
    dead_limit_v = serializers.FloatField()
    pairs = PairSerializer(many=True)
    missing = NoteSerializer(many=True)


class StepSerializer(serializers.Serializer):
    """A step of the visit."""

    step = serializers.ChoiceField(choices=STEPS)
    text = serializers.CharField()
    is_done = serializers.BooleanField()
    at = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField()
    missing = NoteSerializer(many=True)


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
    """Everything about the survey of one loop."""

    loop = serializers.UUIDField()
    version = serializers.IntegerField()
    enquiry = serializers.DictField(child=serializers.JSONField(allow_null=True))
    visit = VisitSerializer()
    box = serializers.DictField(child=serializers.JSONField(allow_null=True))
    practice = serializers.CharField()
    control_body = serializers.DictField(child=serializers.FloatField(), allow_null=True)
    spacers_m = serializers.ListField(child=serializers.FloatField())
    circuits = BoxCircuitSerializer(many=True)
    judgement = BoxJudgementSerializer()
    depth = DepthSerializer(allow_null=True)
    readings = TakenReadingSerializer(many=True)
    isolations = IsolationSerializer(many=True)
    steps = StepSerializer(many=True)
    photos = PhotoSerializer(many=True)
    cautions = CautionTextSerializer(many=True)


class SurveySaveSerializer(serializers.Serializer):
    """The documents of a survey, and the version they were made from; the core checks them."""

    version = serializers.IntegerField(min_value=0)
    enquiry = serializers.DictField(child=serializers.JSONField(allow_null=True))
    box = serializers.DictField(child=serializers.JSONField(allow_null=True))
    practice = serializers.CharField(max_length=40, allow_blank=True, default="")
    control_body = serializers.DictField(child=serializers.FloatField(allow_null=True), allow_null=True, default=None)
    spacers_m = serializers.ListField(child=serializers.FloatField(), max_length=12, default=list)
    other_circuits = serializers.ListField(child=serializers.UUIDField(), max_length=6, default=list)


class ReadingTakeSerializer(serializers.Serializer):
    """A new reading; its identity is the sender's, so that sending it twice keeps it once."""

    id = serializers.UUIDField()
    a = serializers.CharField(max_length=40)
    b = serializers.CharField(max_length=40)
    v = serializers.FloatField(allow_null=True, default=None)
    r_ohm = serializers.FloatField(allow_null=True, default=None)
    is_open = serializers.BooleanField(default=False)
    meter_r_ohm = serializers.FloatField(allow_null=True, default=None)
    supply_on = serializers.BooleanField(default=True)
    switches = serializers.DictField(child=serializers.ChoiceField(choices=POSITIONS), default=dict)
    origin = serializers.ChoiceField(choices=Origin.choices, default=Origin.TYPED)


class ReasonSerializer(serializers.Serializer):
    """Why a reading is struck out."""

    reason = serializers.CharField(max_length=200)


class IsolationOpenSerializer(serializers.Serializer):
    """A new isolation; its identity is the sender's."""

    id = serializers.UUIDField()
    scope = serializers.ChoiceField(choices=SCOPES)
    circuits = serializers.ListField(child=serializers.UUIDField(), max_length=12, default=list)
    is_locked_off = serializers.BooleanField(default=False)
    is_tester_proved_before = serializers.BooleanField(default=False)
    has_electronic_control = serializers.BooleanField(default=False)


class IsolationChangeSerializer(serializers.Serializer):
    """What changes of an open isolation, and the version that was seen."""

    version = serializers.IntegerField(min_value=1)
    scope = serializers.ChoiceField(choices=SCOPES, required=False)
    circuits = serializers.ListField(child=serializers.UUIDField(), max_length=12, required=False)
    is_locked_off = serializers.BooleanField(required=False)
    is_tester_proved_before = serializers.BooleanField(required=False)
    is_tester_proved_after = serializers.BooleanField(required=False)
    has_electronic_control = serializers.BooleanField(required=False)
    is_discharged = serializers.BooleanField(required=False)


class DeadTestSerializer(serializers.Serializer):
    """Volts between two points, isolated."""

    a = serializers.CharField(max_length=40)
    b = serializers.CharField(max_length=40)
    v = serializers.FloatField()


class DeadTestsSerializer(serializers.Serializer):
    """Readings of proving dead."""

    version = serializers.IntegerField(min_value=1)
    tests = DeadTestSerializer(many=True, allow_empty=False)


class IsolationCloseSerializer(serializers.Serializer):
    """Putting the power back."""

    version = serializers.IntegerField(min_value=1)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")


class StepMarkSerializer(serializers.Serializer):
    """A step done, or the mark taken back."""

    step = serializers.ChoiceField(choices=STEPS)
    is_done = serializers.BooleanField()


class PhotoTakeSerializer(serializers.Serializer):
    """A photograph from a file or a camera."""

    id = serializers.UUIDField()
    moment = serializers.ChoiceField(choices=Moment.choices)
    caption = serializers.CharField(max_length=200, allow_blank=True, default="")
    file = serializers.FileField()


class MeterReadSerializer(serializers.Serializer):
    """What the meter is asked for."""

    function = serializers.ChoiceField(choices=FUNCTIONS)
    a = serializers.CharField(max_length=40)
    b = serializers.CharField(max_length=40)
    meter_r_ohm = serializers.FloatField(min_value=1e5, max_value=1e8, default=1e7)
    switches = serializers.DictField(child=serializers.ChoiceField(choices=POSITIONS), default=dict)


class MeterValueSerializer(serializers.Serializer):
    """What the meter shows."""

    v = serializers.FloatField(allow_null=True)
    r_ohm = serializers.FloatField(allow_null=True)
    is_open = serializers.BooleanField()
    i_a = serializers.FloatField(allow_null=True)
    meter_r_ohm = serializers.FloatField(allow_null=True)
    supply_on = serializers.BooleanField()


class MeterSerializer(serializers.Serializer):
    """The meter of this copy."""

    identity = serializers.CharField()
    is_stand_in = serializers.BooleanField()
    fault = serializers.ChoiceField(choices=FAULTS)
    faults = serializers.ListField(child=serializers.CharField())


class MeterFaultSerializer(serializers.Serializer):
    """The stand-in's fault switch."""

    fault = serializers.ChoiceField(choices=FAULTS)


class ChoiceSerializer(serializers.Serializer):
    """One entry of a list to choose from."""

    value = serializers.CharField()
    text = serializers.CharField()


class PracticeSerializer(ChoiceSerializer):
    """A wiring practice with the conductors it draws for the first gang."""

    ways = serializers.CharField()
    conductors = serializers.ListField(child=serializers.DictField(child=serializers.JSONField(allow_null=True)))


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
