"""Serializers of a gang with the light on: the matrix, the half-cycle, the light curve, and the loads."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.compatibility.load_limits import From, LoadState, Side
from ember_core.compatibility.matrix import Goes
from ember_core.lit.pictures import View
from judging.api.shapes import NumbersField, choices_of, optional_float
from judging.api.shapes_bypass import BypassReasonSerializer
from judging.api.shapes_spread import RangeSerializer

GOES = choices_of(Goes)
EDGES = ("on_off", "leading", "trailing")
MARKS = ("least", "start", "most")


class LitMemberSerializer(serializers.Serializer):
    """What the matrix says of one lamp group."""

    group = serializers.IntegerField()
    load = serializers.CharField()
    declared = serializers.CharField()
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    text = serializers.CharField()
    figures = BypassReasonSerializer(many=True)


VIEWS = choices_of(View)


class LitEdgeSerializer(serializers.Serializer):
    """One edge of a control that can do both."""

    edge = serializers.ChoiceField(choices=EDGES)
    edge_text = serializers.CharField()
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    text = serializers.CharField()


class CycleMarkSerializer(serializers.Serializer):
    """A trim in the half-cycle: the angle at which the dimmer acts for it."""

    name = serializers.ChoiceField(choices=MARKS)
    theta_deg = serializers.FloatField()


class LitPictureSerializer(serializers.Serializer):
    """A cycle while on; of a relay the time after it closed, or a cycle with its supply window."""

    theta_deg = NumbersField()
    v_source_v = NumbersField()
    v_lamp_v = NumbersField()
    i_line_a = NumbersField()
    i_peak_a = serializers.FloatField()
    i_rms_a = serializers.FloatField()
    lamp_v_rms = serializers.FloatField()
    fired_deg = optional_float()
    drop_out_deg = optional_float()
    v_at_zero_crossing_v = optional_float()
    i2t_a2s = serializers.FloatField()
    gap = RangeSerializer(allow_null=True)
    holds = RangeSerializer(allow_null=True)
    window_deg = optional_float()
    peak_allowed_a = optional_float()
    marks = CycleMarkSerializer(many=True)


class CycleBandSerializer(serializers.Serializer):
    """Least and most of a cycle over some samples."""

    theta_deg = NumbersField()
    v_low_v = NumbersField()
    v_high_v = NumbersField()
    i_low_a = NumbersField()
    i_high_a = NumbersField()
    text = serializers.CharField()


class GroupLightSerializer(serializers.Serializer):
    """Light of a lamp group over conduction, with its band."""

    group = serializers.IntegerField()
    low = NumbersField()
    middle = NumbersField()
    high = NumbersField()


class LightCurveSerializer(serializers.Serializer):
    """Light over conduction of each lamp type, and the proposed trims."""

    gamma_deg = NumbersField()
    groups = GroupLightSerializer(many=True)
    worst = serializers.IntegerField()
    drop_out_deg = RangeSerializer()
    pop_on_deg = RangeSerializer()
    least_deg = serializers.FloatField()
    start_deg = serializers.FloatField()
    most_deg = serializers.FloatField()
    text = serializers.CharField()
    trims = serializers.ListField(child=serializers.CharField())


class LitSerializer(serializers.Serializer):
    """A gang while the light is on."""

    mode = serializers.CharField(allow_null=True)
    mode_text = serializers.CharField()
    edge = serializers.ChoiceField(choices=EDGES)
    edges = LitEdgeSerializer(many=True)
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    members = LitMemberSerializer(many=True)
    mixed = serializers.CharField()
    findings = BypassReasonSerializer(many=True)
    level_deg = serializers.FloatField()
    headroom_ratio = serializers.FloatField()
    view = serializers.ChoiceField(choices=VIEWS)
    has_window = serializers.BooleanField()
    picture = LitPictureSerializer(allow_null=True)
    picture_text = serializers.CharField()
    curve = LightCurveSerializer(allow_null=True)
    assumed = serializers.CharField()


class MatrixCellSerializer(serializers.Serializer):
    """One mode of a row of the matrix."""

    mode = serializers.CharField()
    mode_text = serializers.CharField()
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    text = serializers.CharField()


class MatrixRowSerializer(serializers.Serializer):
    """A load with what its maker declares, against every mode."""

    load = serializers.CharField()
    declared = serializers.CharField()
    cells = MatrixCellSerializer(many=True)


LOAD_STATES = choices_of(LoadState)


LOAD_SIDES = choices_of(Side)
LOAD_ORIGINS = choices_of(From)


class LoadLimitSerializer(serializers.Serializer):
    """One limit of the load, as a number of lamps."""

    rule = serializers.CharField()
    title = serializers.CharField()
    side = serializers.ChoiceField(choices=LOAD_SIDES)
    origin = serializers.ChoiceField(choices=LOAD_ORIGINS)
    count = serializers.IntegerField(allow_null=True)
    text = serializers.CharField()
    state = serializers.ChoiceField(choices=LOAD_STATES)
    governs = serializers.BooleanField()


class LoadLimitsSerializer(serializers.Serializer):
    """Least and largest load, whole, and what governs."""

    group = serializers.IntegerField()
    there = serializers.IntegerField()
    state = serializers.ChoiceField(choices=LOAD_STATES)
    text = serializers.CharField()
    rows = LoadLimitSerializer(many=True)
    caution = serializers.CharField()
