"""Serializers of the choice of a bypass: its window, the ranking, its place, and after fitting."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.bypass.schools import School
from judging.api.shapes import ENDED, SEVERITIES, choices_of, optional_float
from judging.api.shapes_spread import SpreadBaseSerializer


class BypassZoneSerializer(serializers.Serializer):
    """A stretch of values that fails, and why."""

    low = serializers.FloatField()
    high = serializers.FloatField()
    reason = serializers.CharField()
    group = serializers.IntegerField(allow_null=True)


class BypassLimitSerializer(serializers.Serializer):
    """What limits a bypass above; the value is null where it limits nothing or is not known."""

    reason = serializers.CharField()
    value = optional_float()
    text = serializers.CharField()


class BypassWindowSerializer(serializers.Serializer):
    """Values between which a bypass of one kind works, in F, Ω or A.

    `wanted`: from where on there is the wanted margin to light; `sure`: from where on 95 of 100 samples work.
    """

    low = optional_float()
    high = optional_float()
    works = serializers.BooleanField()
    wanted = optional_float()
    sure = optional_float()
    lower_reason = serializers.CharField()
    upper_reason = serializers.CharField()
    lower_text = serializers.CharField()
    upper_text = serializers.CharField()
    text = serializers.CharField()
    zones = BypassZoneSerializer(many=True)
    limits = BypassLimitSerializer(many=True)


class BypassReasonSerializer(serializers.Serializer):
    """A reason for or against a part."""

    severity = serializers.ChoiceField(choices=SEVERITIES)
    text = serializers.CharField()


BYPASS_VERDICTS = ("works", "unsure", "rejected")
SCHOOLS = choices_of(School)
SAID = ("serves", "costs", "fails", "unknown", "open")


class BypassChoiceSerializer(serializers.Serializer):
    """A part of the shelf, a value of a series, or none at all, held against the loop."""

    part = serializers.UUIDField(allow_null=True)
    figures = serializers.DictField(child=serializers.JSONField(allow_null=True), allow_null=True)
    name = serializers.CharField()
    kind = serializers.CharField(allow_null=True)
    rank = serializers.IntegerField()
    verdict = serializers.ChoiceField(choices=BYPASS_VERDICTS)
    samples = serializers.IntegerField()
    share_ratio = serializers.FloatField()
    on_share_ratio = optional_float()
    margin_ratio = optional_float()
    heat_w = optional_float()
    reactive_a = serializers.FloatField()
    reactive_va = serializers.FloatField()
    surface_k = optional_float()
    price = optional_float()
    year_j = optional_float()
    year_cost = optional_float()
    reasons = BypassReasonSerializer(many=True)


class SchoolSerializer(serializers.Serializer):
    """A habit of the trade held against the loop."""

    school = serializers.ChoiceField(choices=SCHOOLS)
    title = serializers.CharField()
    code = serializers.ChoiceField(choices=SAID)
    text = serializers.CharField()


class WireLineSerializer(serializers.Serializer):
    """A line of the wire map."""

    start = serializers.CharField()
    end = serializers.CharField()
    conductor = serializers.CharField()
    marking = serializers.CharField()


class PlaceWordsSerializer(serializers.Serializer):
    """Where a bypass goes, in words."""

    notes = serializers.ListField(child=serializers.CharField())
    lines = WireLineSerializer(many=True)


class ChoosingSerializer(serializers.Serializer):
    """Windows and ranked parts."""

    capacitor = BypassWindowSerializer()
    resistor = BypassWindowSerializer()
    active = BypassWindowSerializer()
    none_needed = serializers.BooleanField()
    none_cures = serializers.CharField()
    is_complete = serializers.BooleanField()
    ended = serializers.CharField(help_text=ENDED)
    parts = BypassChoiceSerializer(many=True)
    schools = SchoolSerializer(many=True)
    place = PlaceWordsSerializer()


class RemedySerializer(serializers.Serializer):
    """What to do next, and the chance that it helps."""

    name = serializers.CharField()
    part = serializers.UUIDField(allow_null=True)
    chance = serializers.FloatField()


class AfterFittingSerializer(serializers.Serializer):
    """What was read with the bypass in."""

    text = serializers.CharField()
    is_explained = serializers.BooleanField()
    works_chance = serializers.FloatField(allow_null=True)
    remedies = RemedySerializer(many=True)
    ended = serializers.CharField(help_text=ENDED)
    spread = SpreadBaseSerializer()
