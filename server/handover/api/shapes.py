"""Shapes of handing over."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.handover.frozen import Change
from ember_core.handover.stages import Stage
from ember_core.handover.unusual import Unusual
from handover.models import Rules, Signer, Way

STAGES = [one.value for one in Stage]
KINDS = [one.value for one in Unusual]
CHANGES = [one.value for one in Change]
WAITS = ["technician", "client", "checker", "answer", "issue", "nothing"]
LONGEST_NOTE = 300


class LoopStageSerializer(serializers.Serializer):
    """One stage of a loop."""

    stage = serializers.ChoiceField(STAGES)
    text = serializers.CharField()
    is_met = serializers.BooleanField()
    lacks = serializers.ListField(child=serializers.CharField())


class UnusualSerializer(serializers.Serializer):
    """Something that did not go the usual way."""

    kind = serializers.ChoiceField(KINDS)
    title = serializers.CharField()
    text = serializers.CharField()


class SignatureSerializer(serializers.Serializer):
    """A signature; its strokes as paths in a field of 1000 by 400."""

    role = serializers.ChoiceField(Signer.choices)
    role_text = serializers.CharField()
    way = serializers.ChoiceField(Way.choices)
    way_text = serializers.CharField()
    name = serializers.CharField()
    reason = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    paths = serializers.ListField(child=serializers.CharField())


class AskedBackSerializer(serializers.Serializer):
    """What a checker wants first."""

    note = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class IssueRowSerializer(serializers.Serializer):
    """An issue in the list of its loop."""

    id = serializers.UUIDField()
    number = serializers.IntegerField()
    note = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    waits = serializers.ChoiceField(WAITS)
    waits_text = serializers.CharField()
    signatures = SignatureSerializer(many=True)
    asked_back = AskedBackSerializer(allow_null=True)


class DifferenceSerializer(serializers.Serializer):
    """A line that is not as it was."""

    change = serializers.ChoiceField(CHANGES)
    section = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    text = serializers.CharField()


class RulesSerializer(serializers.ModelSerializer):
    """What the firm wants of a hand-over."""

    class Meta:
        model = Rules
        fields = ("needs_checker", "needs_client", "own_work", "contact", "version")


class HandoverSerializer(serializers.Serializer):
    """Where a loop stands, and its issues."""

    loop = serializers.UUIDField()
    stage = serializers.ChoiceField(STAGES)
    stage_text = serializers.CharField()
    stages = LoopStageSerializer(many=True)
    is_ready = serializers.BooleanField()
    may_issue = serializers.BooleanField()
    unusual = UnusualSerializer(many=True)
    issues = IssueRowSerializer(many=True)
    changed = DifferenceSerializer(many=True, help_text="what the record says now that the newest issue does not")
    rules = RulesSerializer()


class FrozenLineSerializer(serializers.Serializer):
    """One line of an issue."""

    section = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    value = serializers.CharField(allow_blank=True)


class MissingSignerSerializer(serializers.Serializer):
    """Who has not signed."""

    role = serializers.ChoiceField(Signer.choices)
    text = serializers.CharField()
    may = serializers.BooleanField(help_text="the reader may sign as this, or let a client sign")


class IssueSerializer(IssueRowSerializer):
    """One issue."""

    loop = serializers.UUIDField()
    loop_name = serializers.CharField()
    site_name = serializers.CharField()
    chain = serializers.CharField()
    core_version = serializers.CharField()
    unusual = UnusualSerializer(many=True)
    lines = FrozenLineSerializer(many=True)
    new = DifferenceSerializer(many=True)
    before = serializers.IntegerField(allow_null=True)
    later = serializers.IntegerField(allow_null=True)
    faults = serializers.ListField(child=serializers.CharField())
    missing = MissingSignerSerializer(many=True)
    is_own_work = serializers.BooleanField()
    may_ask_back = serializers.BooleanField()


class IssueMakeSerializer(serializers.Serializer):
    """An issue to be made."""

    id = serializers.UUIDField()
    note = serializers.CharField(max_length=LONGEST_NOTE, allow_blank=True, default="")


class SignSerializer(serializers.Serializer):
    """A signature as it is sent."""

    id = serializers.UUIDField()
    role = serializers.ChoiceField(Signer.choices)
    way = serializers.ChoiceField(Way.choices)
    chain = serializers.CharField(max_length=64, help_text="of the issue, as the signer was shown it")
    name = serializers.CharField(max_length=120, allow_blank=True, default="")
    strokes = serializers.ListField(
        child=serializers.ListField(child=serializers.ListField(child=serializers.FloatField(), max_length=2)),
        max_length=400,
        default=list,
    )
    password = serializers.CharField(max_length=200, allow_blank=True, default="", trim_whitespace=False)
    reason = serializers.CharField(max_length=300, allow_blank=True, default="")


class AskBackSerializer(serializers.Serializer):
    """What is wanted first."""

    id = serializers.UUIDField()
    note = serializers.CharField(max_length=500)


class HistoryLineSerializer(serializers.Serializer):
    """One line of a loop's history."""

    at = serializers.DateTimeField()
    who = serializers.CharField()
    text = serializers.CharField()
    count = serializers.IntegerField(help_text="entries that are told as one")


class StageCountSerializer(serializers.Serializer):
    """How many loops stand at a stage."""

    stage = serializers.ChoiceField(STAGES)
    text = serializers.CharField()
    count = serializers.IntegerField()


class WaitingSerializer(serializers.Serializer):
    """A loop that waits for somebody."""

    loop = serializers.UUIDField()
    loop_name = serializers.CharField()
    site_name = serializers.CharField()
    zone = serializers.CharField(allow_blank=True, help_text="of its site; empty: UTC")
    issue = serializers.UUIDField(allow_null=True)
    number = serializers.IntegerField(allow_null=True)
    waits = serializers.ChoiceField(WAITS)
    text = serializers.CharField()
    note = serializers.CharField()
    since = serializers.DateTimeField()
    by = serializers.CharField()
    is_mine = serializers.BooleanField()


class HandoverBoardSerializer(serializers.Serializer):
    """What waits for whom."""

    stages = StageCountSerializer(many=True)
    waiting = WaitingSerializer(many=True)
    waiting_count = serializers.IntegerField(help_text="all that waits; the first of it are listed")
