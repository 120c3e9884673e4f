"""Serializers of what a judgement is over its ranges: shares, narrowing, sweeps, gangs together."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.spread.narrow import Kind
from judging.api.shapes import ENDED, InputSerializer, NumbersField, choices_of, optional_float


class RangeSerializer(serializers.Serializer):
    """5th, 50th and 95th percentile; null is beyond every number."""

    p05 = optional_float()
    p50 = optional_float()
    p95 = optional_float()


class SpreadFigureSerializer(InputSerializer):
    """A figure that decides, and whose it is."""

    where = serializers.CharField()
    correlation = serializers.FloatField()


class LampSharesSerializer(serializers.Serializer):
    """Shares of one lamp group, and its margin to light."""

    shares = serializers.DictField(child=serializers.FloatField())
    margin = RangeSerializer()


class DisturbanceSerializer(serializers.Serializer):
    """What a step of the mains does."""

    largest_dark_step_ratio = optional_float()
    notch_flashes = serializers.BooleanField()
    text = serializers.CharField()


class LeakageSerializer(serializers.Serializer):
    """Off-state currents at one supply voltage, rms."""

    name = serializers.CharField()
    v_rms = serializers.FloatField()
    line_i_rms_a = serializers.FloatField()
    lamps_i_rms_a = serializers.ListField(child=serializers.FloatField())
    one_lamp_i_rms_a = serializers.ListField(child=serializers.FloatField())
    bypass_i_rms_a = serializers.ListField(child=serializers.FloatField())
    across_i_rms_a = serializers.FloatField()


class SpreadBaseSerializer(serializers.Serializer):
    """A gang over the ranges of its figures."""

    samples = serializers.IntegerField()
    seed = serializers.IntegerField()
    failed = serializers.IntegerField()
    ended = serializers.CharField(help_text=ENDED)
    all_well_ratio = serializers.FloatField()
    title = serializers.CharField()
    text = serializers.CharField()
    lamps = LampSharesSerializer(many=True)
    control = serializers.DictField(child=serializers.FloatField(), allow_null=True)
    lamp_v_rms = RangeSerializer()
    line_i_rms_a = RangeSerializer()
    deciding = SpreadFigureSerializer(many=True)


class SpreadSerializer(SpreadBaseSerializer):
    """The same with disturbance and leakage."""

    disturbance = DisturbanceSerializer(allow_null=True)
    leakage = LeakageSerializer(many=True)


class NarrowedFigureSerializer(InputSerializer):
    """A figure before and after."""

    where = serializers.CharField()
    prior = RangeSerializer()
    posterior = RangeSerializer()
    unit = serializers.CharField()


class NarrowingSerializer(SpreadBaseSerializer):
    """A gang with what was read."""

    is_explained = serializers.BooleanField()
    distance = serializers.FloatField()
    effective = serializers.FloatField()
    explanation = serializers.CharField()
    figures = NarrowedFigureSerializer(many=True)


class LeastLoadSerializer(serializers.Serializer):
    """Fewest lamps with one arrangement."""

    group = serializers.IntegerField()
    bypass = serializers.CharField()
    count = serializers.IntegerField(allow_null=True)
    count_nominal = serializers.IntegerField(allow_null=True)
    watts = optional_float()
    text = serializers.CharField()
    is_enough = serializers.BooleanField()


MEASUREMENT_KINDS = choices_of(Kind)


class MeasurementSerializer(serializers.Serializer):
    """One reading off the loop."""

    kind = serializers.ChoiceField(choices=MEASUREMENT_KINDS)
    value = serializers.FloatField(min_value=0.0, default=1.0)
    seen = serializers.CharField(max_length=20, allow_blank=True, default="")
    replacement = serializers.DictField(child=serializers.JSONField(allow_null=True), required=False, allow_null=True)
    meter_r_ohm = serializers.FloatField(min_value=1e3, max_value=1e9, required=False, allow_null=True)
    group = serializers.IntegerField(min_value=0, max_value=11, default=0)


class MeterRangeSerializer(serializers.Serializer):
    """What a meter will show."""

    r_ohm = serializers.FloatField()
    v_rms = RangeSerializer()
    text = serializers.CharField()


class BandSerializer(serializers.Serializer):
    """5th, 50th and 95th percentile along a cycle."""

    low = NumbersField()
    middle = NumbersField()
    high = NumbersField()


class PredictionSerializer(serializers.Serializer):
    """What instruments will show, over the ranges."""

    samples = serializers.IntegerField()
    readings = MeterRangeSerializer(many=True)
    is_ghost = serializers.BooleanField()
    text = serializers.CharField()
    t_s = NumbersField()
    v_lamp_v = BandSerializer()
    i_line_a = BandSerializer()
    period_s = RangeSerializer(allow_null=True)
    blinking_ratio = serializers.FloatField()


class SweepPointSerializer(serializers.Serializer):
    """Shares of the outcomes at one value."""

    value = serializers.FloatField()
    shares = serializers.DictField(child=serializers.FloatField())


class SweepSerializer(serializers.Serializer):
    """One figure over its range and beyond."""

    path = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    where = serializers.CharField()
    unit = serializers.CharField()
    low = serializers.FloatField()
    typical = serializers.FloatField()
    high = serializers.FloatField()
    points = SweepPointSerializer(many=True)
    text = serializers.CharField()


class TogetherSerializer(serializers.Serializer):
    """Gangs of one box together."""

    is_known = serializers.BooleanField()
    text = serializers.CharField()
    feeding_text = serializers.CharField()
    swap_cures = serializers.BooleanField()
    names = serializers.ListField(child=serializers.CharField())
    positions = serializers.ListField(child=serializers.IntegerField(), help_text="their numbers in the loop")
    matrix = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    best = serializers.ListField(child=serializers.IntegerField())


class CureSerializer(serializers.Serializer):
    """One filament lamp among the others."""

    group = serializers.IntegerField()
    p_w = serializers.FloatField()
    share_ratio = serializers.FloatField()
    text = serializers.CharField()
