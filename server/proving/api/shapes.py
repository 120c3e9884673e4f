"""Shapes of proving and of cases."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.proving.items import Outcome
from judging.api.shapes_spread import RangeSerializer
from proving.models import Heard
from proving.services.metering import READS

OUTCOMES = [one.value for one in Outcome]


class ProveResultSerializer(serializers.Serializer):
    """What an item can be found to be."""

    code = serializers.CharField()
    text = serializers.CharField()
    is_good = serializers.BooleanField()
    symptom = serializers.CharField(allow_null=True, help_text="what a bad one is as a complaint")


class ProveItemSerializer(serializers.Serializer):
    """One thing to prove, with what came of it."""

    key = serializers.CharField()
    act = serializers.CharField()
    gang = serializers.UUIDField(allow_null=True)
    gang_position = serializers.IntegerField(help_text="0 for the loop as a whole")
    title = serializers.CharField()
    text = serializers.CharField()
    results = ProveResultSerializer(many=True)
    shut = serializers.CharField(help_text="why it cannot be marked now; empty where it can")
    wants_off = serializers.BooleanField(help_text="it is tried with the power off")
    outcome = serializers.ChoiceField(OUTCOMES)
    result = serializers.CharField()
    result_text = serializers.CharField()
    reason = serializers.CharField()
    is_old = serializers.BooleanField(
        help_text="found before parts or wiring changed, or by a reading that does not stand any more"
    )
    mark = serializers.UUIDField(allow_null=True, help_text="the newest of it, whatever it stands on")
    at = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField()


class ProvingSerializer(serializers.Serializer):
    """The list of a loop."""

    items = ProveItemSerializer(many=True)
    is_proved = serializers.BooleanField()
    text = serializers.CharField()
    basis = serializers.CharField(help_text="of the parts and the fitting that marks are made on")
    accustom_s = serializers.IntegerField()
    watch_s = serializers.IntegerField()
    prompts_s = serializers.ListField(child=serializers.IntegerField())
    open_cases = serializers.IntegerField()


class ProveMarkMakeSerializer(serializers.Serializer):
    """A mark as it is sent."""

    id = serializers.UUIDField()
    item = serializers.CharField(max_length=80)
    result = serializers.CharField(max_length=20, help_text="one of the item's, or excused, or open")
    reason = serializers.CharField(max_length=300, allow_blank=True, default="")
    basis = serializers.CharField(max_length=40, allow_blank=True, default="", help_text="that the list had")
    seen = serializers.UUIDField(
        allow_null=True, required=False, help_text="the newest mark of the item that the caller saw; left out: not said"
    )
    watched_s = serializers.FloatField(min_value=0.0, max_value=86_400.0, allow_null=True, default=None)
    taps_s = serializers.ListField(child=serializers.FloatField(), max_length=400, default=list)
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class WorthReadingSerializer(serializers.Serializer):
    """A reading and what it tells."""

    read = serializers.CharField()
    text = serializers.CharField()
    gain_bits = serializers.FloatField()
    unit = serializers.CharField()
    meter_r_ohm = serializers.FloatField(allow_null=True)
    expected = RangeSerializer(help_text="with the meter in the loop, SI")
    blinking_ratio = serializers.FloatField()


class TakenReadingTextSerializer(serializers.Serializer):
    """The newest reading beside its range."""

    text = serializers.CharField()
    is_inside = serializers.BooleanField()
    at = serializers.DateTimeField()


class WorthSerializer(serializers.Serializer):
    """What to read of a gang."""

    readings = WorthReadingSerializer(many=True)
    taken = TakenReadingTextSerializer(allow_null=True)
    text = serializers.CharField()


class LampMeterReadSerializer(serializers.Serializer):
    """What is read at the lamps."""

    read = serializers.ChoiceField(READS)


class LampMeterValueSerializer(serializers.Serializer):
    """What the meter shows."""

    value = serializers.FloatField(help_text="SI")
    meter_r_ohm = serializers.FloatField(allow_null=True)
    identity = serializers.CharField()
    is_simulated = serializers.BooleanField()


class ToldSerializer(serializers.Serializer):
    """A symptom as it is told."""

    code = serializers.CharField(max_length=30)
    period_s = serializers.FloatField(allow_null=True, required=False)


class ToldTextSerializer(ToldSerializer):
    """A symptom with its words."""

    text = serializers.CharField()


class CaseOpenSerializer(serializers.Serializer):
    """A case as it is opened."""

    id = serializers.UUIDField()
    gang = serializers.UUIDField()
    told = ToldSerializer(many=True)
    heard = serializers.ChoiceField(Heard.choices, default=Heard.TOLD)
    since = serializers.CharField(max_length=120, allow_blank=True, default="")
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    made_at = serializers.DateTimeField(allow_null=True, default=None)

    def validate_told(self, value: list[dict[str, object]]) -> list[dict[str, object]]:
        """Nothing is kept of a rhythm that nobody told."""
        return [{name: one for name, one in entry.items() if one is not None} for entry in value]


class EvidenceSerializer(serializers.Serializer):
    """What a test found."""

    id = serializers.UUIDField()
    test = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()
    note = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    struck_reason = serializers.CharField()


class EvidenceKeepSerializer(serializers.Serializer):
    """What a test found, as it is sent: an outcome, or a value in SI units."""

    id = serializers.UUIDField()
    test = serializers.CharField(max_length=40)
    outcome = serializers.CharField(max_length=40, allow_null=True, default=None)
    value = serializers.FloatField(allow_null=True, default=None)
    meter_r_ohm = serializers.FloatField(allow_null=True, default=None)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class CaseEventSerializer(serializers.Serializer):
    """Closed, or opened again."""

    is_closing = serializers.BooleanField()
    text = serializers.CharField()
    cause = serializers.CharField()
    cause_text = serializers.CharField()
    remedy_text = serializers.CharField()
    note = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()


class CaseSerializer(serializers.Serializer):
    """A case."""

    id = serializers.UUIDField()
    number = serializers.IntegerField()
    loop = serializers.UUIDField()
    gang = serializers.UUIDField()
    gang_position = serializers.IntegerField()
    gang_name = serializers.CharField()
    is_open = serializers.BooleanField()
    told = ToldTextSerializer(many=True)
    heard = serializers.ChoiceField(Heard.choices)
    since = serializers.CharField()
    note = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    evidence = EvidenceSerializer(many=True)
    events = CaseEventSerializer(many=True)


class SymptomSerializer(serializers.Serializer):
    """A symptom that can be told."""

    code = serializers.CharField()
    text = serializers.CharField()
    when = serializers.CharField(help_text="off, on, wall or network")


class CauseNameSerializer(serializers.Serializer):
    """A cause that a case can be closed with."""

    code = serializers.CharField()
    text = serializers.CharField()
    area_text = serializers.CharField()


class CaseWordSerializer(serializers.Serializer):
    """A word."""

    code = serializers.CharField()
    text = serializers.CharField()


class CasesSerializer(serializers.Serializer):
    """The cases of a loop, and what they are opened and closed with."""

    cases = CaseSerializer(many=True)
    symptoms = SymptomSerializer(many=True)
    causes = CauseNameSerializer(many=True)
    remedies = CaseWordSerializer(many=True)
    isolated = serializers.CharField()


class SpeaksSerializer(serializers.Serializer):
    """What speaks for a cause (above 0) or against it [bit]."""

    text = serializers.CharField()
    bits = serializers.FloatField()


class CauseShareSerializer(serializers.Serializer):
    """A cause with its share."""

    code = serializers.CharField()
    title = serializers.CharField()
    share = serializers.FloatField()
    area = serializers.CharField()
    area_text = serializers.CharField()
    places = serializers.ListField(child=serializers.CharField(), help_text="where on the thread")
    speaks = SpeaksSerializer(many=True)


class NextTestSerializer(serializers.Serializer):
    """A test worth making."""

    code = serializers.CharField()
    title = serializers.CharField()
    how = serializers.CharField()
    kind = serializers.CharField()
    minutes = serializers.FloatField()
    gain_bits = serializers.FloatField()
    danger = serializers.CharField()
    power = serializers.CharField(help_text="what it wants of the supply: any, on, off, both")
    danger_text = serializers.CharField()
    outcomes = CaseWordSerializer(many=True)
    others = CaseWordSerializer(many=True, help_text="don't know, cannot")
    unit = serializers.CharField()
    key = serializers.CharField(help_text="name of the value that is read; empty for one that is seen")
    meter_r_ohm = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True, help_text="nine in ten values lie between low and high, SI")
    high = serializers.FloatField(allow_null=True)


class RemedyChanceSerializer(serializers.Serializer):
    """A remedy with its chance."""

    code = serializers.CharField()
    text = serializers.CharField()
    chance = serializers.FloatField()
    minutes = serializers.FloatField()
    price = serializers.FloatField()
    undo = serializers.CharField()
    tab = serializers.CharField(help_text="where on the bench it is tried out; empty where nowhere")


class DiagnosisSerializer(serializers.Serializer):
    """What is known of a case."""

    missing = serializers.ListField(child=serializers.CharField(), help_text="what the record lacks")
    text = serializers.CharField()
    explained = serializers.BooleanField()
    causes = CauseShareSerializer(many=True)
    none_share = serializers.FloatField()
    doubt_bits = serializers.FloatField()
    next = NextTestSerializer(many=True)
    remedies = RemedyChanceSerializer(many=True)
    learned = serializers.CharField()


class CaseCloseSerializer(serializers.Serializer):
    """What it was."""

    cause = serializers.CharField(max_length=80)
    remedy = serializers.CharField(max_length=40, allow_blank=True, default="")
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    seen = serializers.ListField(
        child=serializers.UUIDField(),
        max_length=200,
        allow_null=True,
        default=None,
        help_text="the evidence that stood there, not struck out",
    )


class CaseReopenSerializer(serializers.Serializer):
    """Why it is open again."""

    note = serializers.CharField(max_length=500, allow_blank=True)
