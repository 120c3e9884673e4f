"""Serializers that describe a judgement; the data comes from `services.judging`."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from common.shapes import WordSerializer
from ember_core.findings import Severity
from ember_core.offstate.closed_form import Form
from ember_core.offstate.states import LampState, StandbyState
from ember_core.quantities import Source
from judging.verdicts import VerdictWord
from sites.models import Region


def optional_float() -> serializers.FloatField:
    return serializers.FloatField(allow_null=True)


def choices_of(values: type) -> list[str]:
    return [entry.value for entry in values]  # type: ignore[attr-defined]


KIND_CATEGORIES = ["lamp", "bypass", "standby", "control", "cable"]
STANDBY_STATES = choices_of(StandbyState)
LAMP_STATES = choices_of(LampState)
SOURCES = choices_of(Source)
SEVERITIES = choices_of(Severity)
FORMS = choices_of(Form)
ENDED = "why it ended before everything was looked at, and what that leaves open; empty where nothing was left out"


@extend_schema_field({"type": "array", "items": {"type": "number"}})
class NumbersField(serializers.Field):
    """A row of numbers to draw."""

    def to_representation(self, value: list[float]) -> list[float]:
        """As it is."""
        return value


class InputSerializer(serializers.Serializer):
    """An input that a finding rests on."""

    path = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    value = serializers.CharField()
    range = serializers.CharField()
    source = serializers.ChoiceField(choices=SOURCES)  # type: ignore[assignment]  # the framework has an attribute of that name
    note = serializers.CharField()


class FindingSerializer(serializers.Serializer):
    """A reason: code, words, figures, formula and inputs."""

    code = serializers.CharField()
    severity = serializers.ChoiceField(choices=SEVERITIES)
    verdict = serializers.ChoiceField(choices=VerdictWord.choices, allow_null=True)
    params = serializers.DictField(child=serializers.JSONField())
    refs = serializers.ListField(child=serializers.CharField())
    title = serializers.CharField()
    figure = serializers.CharField()
    text = serializers.CharField()
    formula = serializers.CharField()
    inputs = InputSerializer(many=True)


class CautionSerializer(serializers.Serializer):
    """A caution in words."""

    code = serializers.CharField()
    text = serializers.CharField()


class VerdictWordsSerializer(serializers.Serializer):
    """A verdict in words."""

    word = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()


class LampResultSerializer(serializers.Serializer):
    """One lamp group."""

    kind = serializers.CharField()
    count = serializers.IntegerField()
    state = serializers.ChoiceField(choices=LAMP_STATES)
    i_rms_a = serializers.FloatField()
    v_dc = optional_float()
    v_dc_max = optional_float()
    string_i_avg_a = optional_float()
    light_p_w = serializers.FloatField()
    v_start_v = optional_float()
    start_margin_ratio = optional_float()
    glow_margin_ratio = optional_float()
    flash_period_s = optional_float()
    flash_energy_j = optional_float()
    flashes = serializers.IntegerField()


class ControlResultSerializer(serializers.Serializer):
    """The control's supply."""

    state = serializers.ChoiceField(choices=STANDBY_STATES, allow_null=True)
    standby_v_dc = optional_float()
    standby_v_min = optional_float()
    p_needed_w = optional_float()
    p_available_w = optional_float()
    power_ratio = optional_float()
    delivered_ratio = optional_float()
    i_rms_a = serializers.FloatField()


class SharesSerializer(serializers.Serializer):
    """Currents of the other branches."""

    across_a = serializers.FloatField()
    cable_a = serializers.FloatField()
    meter_a = serializers.FloatField()
    bypass_a = serializers.ListField(child=serializers.FloatField())


class ClosedFormSerializer(serializers.Serializer):
    """The closed form."""

    form = serializers.ChoiceField(choices=FORMS)
    c_parallel_f = serializers.FloatField()
    c_across_f = serializers.FloatField()
    standby_v_dc = optional_float()
    feed_i_avg_a = optional_float()
    lamp_v_peak = serializers.FloatField()
    p_max_w = optional_float()
    operating_point = serializers.BooleanField()


class NumericsSerializer(serializers.Serializer):
    """How it was solved."""

    method = serializers.CharField()
    steps_per_cycle = serializers.IntegerField()
    half_cycles = serializers.IntegerField()
    residual_v = serializers.FloatField()
    energy_balance_ratio = optional_float()


class MeterReadingSerializer(serializers.Serializer):
    """A predicted reading."""

    r_ohm = serializers.FloatField()
    v_rms = serializers.FloatField()


class WaveformsSerializer(serializers.Serializer):
    """One cycle."""

    t_s = NumbersField()
    v_supply_v = NumbersField()
    v_lamp_v = NumbersField()
    i_line_a = NumbersField()
    i_lamps_a = NumbersField()


class BlinkSerializer(serializers.Serializer):
    """Some blinks in a row."""

    t_s = NumbersField()
    v_reservoir_v = serializers.ListField(child=NumbersField())
    lit = serializers.ListField(child=NumbersField())
    standby_v = NumbersField()
    groups = serializers.ListField(child=serializers.IntegerField())


class PowerCurveSerializer(serializers.Serializer):
    """Power available against reservoir voltage."""

    standby_v = NumbersField()
    available_p_w = NumbersField()


class FiguresSerializer(serializers.Serializer):
    """The computed figures of a complete loop."""

    lamp_v_rms = serializers.FloatField()
    lamp_v_peak = serializers.FloatField()
    line_i_rms_a = serializers.FloatField()
    lamps = LampResultSerializer(many=True)
    control = ControlResultSerializer()
    shares = SharesSerializer()
    closed_form = ClosedFormSerializer()
    numerics = NumericsSerializer()
    meter = MeterReadingSerializer(many=True)
    waveforms = WaveformsSerializer(required=False)
    blink = BlinkSerializer(required=False, allow_null=True)
    power_curve = PowerCurveSerializer(required=False, allow_null=True)


class JudgeRequestSerializer(serializers.Serializer):
    """A loop sheet to judge, and whose words to use."""

    sheet = serializers.DictField(child=serializers.JSONField(allow_null=True))
    region = serializers.ChoiceField(choices=Region.choices, default=Region.EU)


class JudgementSerializer(serializers.Serializer):
    """A judgement; `figures` is null and `missing` names what lacks while the loop is incomplete."""

    verdict = serializers.ChoiceField(choices=VerdictWord.choices)
    words = VerdictWordsSerializer()
    core_version = serializers.CharField()
    missing = serializers.ListField(child=serializers.CharField())
    findings = FindingSerializer(many=True)
    cautions = CautionSerializer(many=True)
    figures = FiguresSerializer(allow_null=True)


class FieldSerializer(serializers.Serializer):
    """A field of a kind."""

    name = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    unit = serializers.CharField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    optional = serializers.BooleanField()
    integer = serializers.BooleanField()
    rating = serializers.BooleanField()
    lit = serializers.BooleanField()
    words = WordSerializer(many=True)
    default = optional_float()


class KindSerializer(serializers.Serializer):
    """A kind of part."""

    category = serializers.ChoiceField(choices=KIND_CATEGORIES)
    kind = serializers.CharField()
    summary = serializers.CharField()
    fields_ = FieldSerializer(many=True, source="fields")

    def get_fields(self) -> dict[str, serializers.Field]:
        """`fields` is taken by the framework as an attribute, so it is renamed here."""
        found = super().get_fields()
        found["fields"] = found.pop("fields_")
        found["fields"].source = None
        return found


class ThresholdSerializer(serializers.Serializer):
    """A limit that a word hangs on."""

    name = serializers.CharField()
    value = serializers.CharField()
    title = serializers.CharField()
    reason = serializers.CharField()
