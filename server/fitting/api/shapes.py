"""Shapes of fitting."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.fitting.gates import Outcome
from ember_core.fitting.leaving import Leaving
from ember_core.fitting.materials import Kit
from survey.api.shapes import CautionTextSerializer
from work.api.shapes import SpanSerializer, WireMapSerializer

OUTCOMES = [one.value for one in Outcome]
LEAVINGS = [one.value for one in Leaving]


class FitReasonSerializer(serializers.Serializer):
    """Something that stands against it, in words."""

    code = serializers.CharField()
    severity = serializers.CharField()
    text = serializers.CharField()
    refs = serializers.ListField(child=serializers.CharField())


class FitChoiceSerializer(serializers.Serializer):
    """The way that is fitted."""

    id = serializers.UUIDField()
    number = serializers.IntegerField()
    way = serializers.CharField()
    title = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    at = serializers.DateTimeField()
    by = serializers.CharField()
    is_begun = serializers.BooleanField()
    is_current = serializers.BooleanField(help_text="what it stands on has not changed since")
    is_other_wiring = serializers.BooleanField(help_text="the record says another wiring than it was chosen for")


class FitStepSerializer(serializers.Serializer):
    """One step with its gate and what came of it."""

    key = serializers.CharField()
    act = serializers.CharField()
    stage = serializers.CharField()
    stage_text = serializers.CharField()
    power = serializers.CharField(help_text="any, isolated, dead or on")
    place = serializers.CharField()
    place_number = serializers.IntegerField(help_text="as surveys, proofs and photographs name it")
    place_text = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()
    why = serializers.CharField()
    proves = serializers.CharField()
    note = serializers.CharField()
    points = serializers.ListField(child=serializers.CharField(), help_text="of the wire map")
    may_skip = serializers.BooleanField()
    after = serializers.ListField(child=serializers.CharField())
    outcome = serializers.ChoiceField(OUTCOMES)
    reason = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField()
    missing = FitReasonSerializer(many=True)


class FitPlaceSerializer(serializers.Serializer):
    """What keeps the power off a place."""

    place = serializers.CharField()
    number = serializers.IntegerField()
    text = serializers.CharField()
    is_off = serializers.BooleanField()
    proof = serializers.CharField()
    missing = FitReasonSerializer(many=True)


class FitLeavingSerializer(serializers.Serializer):
    """One way to leave it half done."""

    leaving = serializers.ChoiceField(LEAVINGS)
    title = serializers.CharField()
    text = serializers.CharField()
    caps = serializers.ListField(child=serializers.CharField())
    back = serializers.ListField(child=serializers.CharField())
    against = FitReasonSerializer(many=True)


class FitLeftSerializer(serializers.Serializer):
    """How it was left."""

    leaving = serializers.ChoiceField(LEAVINGS)
    text = serializers.CharField()
    caps = serializers.ListField(child=serializers.CharField())
    note = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()


class FitActualSerializer(serializers.Serializer):
    """Minutes that a task has taken, from the marks."""

    task = serializers.CharField()
    text = serializers.CharField()
    minutes = serializers.IntegerField()


class KitItemSerializer(serializers.Serializer):
    """One thing of a kit."""

    kit = serializers.ChoiceField([one.value for one in Kit])
    text = serializers.CharField()
    found = serializers.BooleanField(allow_null=True)


class KitSerializer(serializers.Serializer):
    """What a control's box should hold."""

    part = serializers.CharField()
    name = serializers.CharField()
    items = KitItemSerializer(many=True)
    at = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField()


class FittingSerializer(serializers.Serializer):
    """The fitting of a loop."""

    choice = FitChoiceSerializer(allow_null=True)
    steps = FitStepSerializer(many=True)
    next = serializers.CharField(allow_null=True)
    places = FitPlaceSerializer(many=True)
    leaving = FitLeavingSerializer(many=True)
    left = FitLeftSerializer(allow_null=True)
    is_complete = serializers.BooleanField()
    minutes = SpanSerializer(allow_null=True)
    actual = FitActualSerializer(many=True)
    kit = KitSerializer(allow_null=True)
    map = WireMapSerializer(allow_null=True)
    cautions = CautionTextSerializer(many=True)
    earlier = serializers.IntegerField(help_text="marks of a way that was chosen before")


class FitMarkMakeSerializer(serializers.Serializer):
    """One step marked."""

    id = serializers.UUIDField()
    choice = serializers.UUIDField(help_text="the way whose steps were shown")
    step = serializers.CharField(max_length=80)
    outcome = serializers.ChoiceField(OUTCOMES)
    reason = serializers.CharField(max_length=300, allow_blank=True, default="")
    made_at = serializers.DateTimeField(required=False, allow_null=True, default=None)


class FitLeaveSerializer(serializers.Serializer):
    """Leaving it half done."""

    id = serializers.UUIDField()
    choice = serializers.UUIDField()
    leaving = serializers.ChoiceField(LEAVINGS)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    made_at = serializers.DateTimeField(required=False, allow_null=True, default=None)


class KitCheckMakeSerializer(serializers.Serializer):
    """What was found in the box of a control."""

    id = serializers.UUIDField()
    part = serializers.CharField(max_length=60)
    found = serializers.DictField(child=serializers.BooleanField())
    made_at = serializers.DateTimeField(required=False, allow_null=True, default=None)

    def validate_found(self, found: dict[str, bool]) -> dict[str, bool]:
        """Only what a kit can hold."""
        for name in found:
            if name not in {one.value for one in Kit}:
                raise serializers.ValidationError(name, code="field_invalid_choice")
        return found
