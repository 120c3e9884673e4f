"""Shapes of plans."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.fitting.materials import Item, Tool


class PlanCostSerializer(serializers.Serializer):
    """What a plan costs."""

    visits = serializers.IntegerField()
    isolations = serializers.IntegerField()
    minutes = serializers.IntegerField()


class PlanPersonSerializer(serializers.Serializer):
    """Somebody who may go, and what they hold."""

    id = serializers.UUIDField()
    name = serializers.CharField(read_only=True)
    skills = serializers.ListField(child=serializers.CharField(max_length=60), max_length=20, default=list)


class PlanWindowSerializer(serializers.Serializer):
    """When a circuit may be off [minute of the day]."""

    circuit = serializers.UUIDField()
    begins_min = serializers.IntegerField(min_value=0, max_value=1440, allow_null=True)
    ends_min = serializers.IntegerField(min_value=0, max_value=1440, allow_null=True)


class PlanJobSerializer(serializers.Serializer):
    """A loop of a plan, and what it asks for."""

    loop = serializers.UUIDField()
    name = serializers.CharField()
    breaker = serializers.CharField()
    way = serializers.CharField()
    minutes = serializers.IntegerField(allow_null=True, help_text="by hand")
    minutes_own = serializers.IntegerField(allow_null=True, help_text="from its tasks; null without a way")
    skill = serializers.CharField()
    needs = serializers.ListField(child=serializers.CharField())
    ready_on = serializers.DateField(allow_null=True)
    visit = serializers.IntegerField(allow_null=True)


class PlanJobSaveSerializer(serializers.Serializer):
    """What a loop asks for."""

    loop = serializers.UUIDField()
    minutes = serializers.IntegerField(min_value=1, max_value=960, allow_null=True, default=None)
    skill = serializers.CharField(max_length=60, allow_blank=True, default="")
    needs = serializers.ListField(child=serializers.UUIDField(), max_length=20, default=list)
    ready_on = serializers.DateField(allow_null=True, default=None)


class PlanSaveSerializer(serializers.Serializer):
    """What a plan asks for."""

    name = serializers.CharField(max_length=80)
    first_day = serializers.DateField()
    begins_min = serializers.IntegerField(min_value=0, max_value=1410)
    visit_minutes = serializers.IntegerField(min_value=1, max_value=1440)
    isolate_minutes = serializers.IntegerField(min_value=0, max_value=120)
    walk_minutes = serializers.IntegerField(min_value=0, max_value=120)
    people = PlanPersonSerializer(many=True)
    windows = PlanWindowSerializer(many=True)
    jobs = PlanJobSaveSerializer(many=True)


class PlanMakeSerializer(PlanSaveSerializer):
    """A new plan."""

    id = serializers.UUIDField()
    site = serializers.UUIDField()


class PlanChangeSerializer(PlanSaveSerializer):
    """A change of what a plan asks for."""

    version = serializers.IntegerField(min_value=1)


class PlanStopSerializer(serializers.Serializer):
    """A loop of a visit with its time."""

    loop = serializers.UUIDField()
    name = serializers.CharField()
    breaker = serializers.CharField()
    begins_min = serializers.IntegerField()
    ends_min = serializers.IntegerField()
    minutes = serializers.IntegerField()
    isolates = serializers.BooleanField(help_text="its breaker is isolated for it anew")
    waits_min = serializers.IntegerField(help_text="idle before it, until its circuit may be off")
    actual_minutes = serializers.IntegerField(allow_null=True)
    is_done = serializers.BooleanField()


class DarkSerializer(serializers.Serializer):
    """A circuit that is off, from when to when."""

    breaker = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    feeds = serializers.CharField()
    begins_min = serializers.IntegerField()
    ends_min = serializers.IntegerField()


class PlannedVisitSerializer(serializers.Serializer):
    """One person's day."""

    number = serializers.IntegerField()
    person = serializers.UUIDField()
    person_name = serializers.CharField()
    day = serializers.IntegerField()
    date = serializers.DateField()
    isolations = serializers.IntegerField()
    minutes = serializers.IntegerField(help_text="work, isolating and walking, without waiting")
    waiting_min = serializers.IntegerField()
    ends_min = serializers.IntegerField()
    stops = PlanStopSerializer(many=True)
    dark = DarkSerializer(many=True)


class PlanBoundSerializer(serializers.Serializer):
    """What binds a plan."""

    code = serializers.CharField()
    text = serializers.CharField()


class PlanLeftOutSerializer(serializers.Serializer):
    """A loop in no visit, and why; put into one by hand it is shown there only where it can be planned."""

    loop = serializers.CharField()
    name = serializers.CharField()
    text = serializers.CharField()
    is_able = serializers.BooleanField(help_text="nothing of the loop itself stands against planning it")


class PlanFaultSerializer(serializers.Serializer):
    """Something that is wrong with a plan."""

    visit = serializers.IntegerField()
    loop = serializers.CharField()
    text = serializers.CharField()


class PlanRowSerializer(serializers.Serializer):
    """A plan in a list."""

    id = serializers.UUIDField()
    site = serializers.UUIDField()
    name = serializers.CharField()
    first_day = serializers.DateField()
    people = serializers.ListField(child=serializers.CharField())
    visits = serializers.IntegerField()
    loops = serializers.IntegerField()
    is_optimal = serializers.BooleanField()
    version = serializers.IntegerField()


class PlanSerializer(PlanRowSerializer):
    """Everything of a plan."""

    site_name = serializers.CharField()
    begins_min = serializers.IntegerField()
    visit_minutes = serializers.IntegerField()
    isolate_minutes = serializers.IntegerField()
    walk_minutes = serializers.IntegerField()
    asked_people = PlanPersonSerializer(many=True)
    windows = PlanWindowSerializer(many=True)
    jobs = PlanJobSerializer(many=True)
    planned = PlannedVisitSerializer(many=True)
    cost = PlanCostSerializer()
    best = PlanCostSerializer()
    more = PlanCostSerializer(help_text="beside the computed plan")
    is_by_hand = serializers.BooleanField()
    has_lost = serializers.BooleanField(help_text="a loop of a visit has gone out since, and not because it is done")
    bounds = PlanBoundSerializer(many=True)
    left_out = PlanLeftOutSerializer(many=True)
    faults = PlanFaultSerializer(many=True)


class PlanDefaultsSerializer(serializers.Serializer):
    """What a new plan of a site begins with."""

    windows = PlanWindowSerializer(many=True)
    people = PlanPersonSerializer(many=True)
    me = serializers.UUIDField()


class ComputedSerializer(serializers.Serializer):
    """A plan that was computed and is on no record yet."""

    cost = PlanCostSerializer()
    is_optimal = serializers.BooleanField()
    token = serializers.CharField()


class PlanTakeSerializer(serializers.Serializer):
    """By which it is put on record."""

    token = serializers.CharField(max_length=100_000)


class VisitSaveSerializer(serializers.Serializer):
    """A visit by hand."""

    person = serializers.UUIDField()
    day = serializers.IntegerField(min_value=0, max_value=60)
    loops = serializers.ListField(child=serializers.UUIDField(), max_length=200)


class VisitsSaveSerializer(serializers.Serializer):
    """All visits of a plan by hand."""

    version = serializers.IntegerField(min_value=1)
    visits = VisitSaveSerializer(many=True)


class MaterialSerializer(serializers.Serializer):
    """One row of the list."""

    item = serializers.ChoiceField([one.value for one in Item])
    key = serializers.CharField()
    text = serializers.CharField()
    why = serializers.CharField()
    needed = serializers.FloatField()
    with_spare = serializers.FloatField()
    in_van = serializers.FloatField()
    van_version = serializers.IntegerField()
    to_buy = serializers.FloatField()
    unit = serializers.CharField()
    pack = serializers.IntegerField()
    price = serializers.FloatField(allow_null=True)
    cost = serializers.FloatField(allow_null=True)
    loops = serializers.ListField(child=serializers.CharField())
    is_known = serializers.BooleanField(help_text="else it is measured there")


class ToolSerializer(serializers.Serializer):
    """A tool."""

    tool = serializers.ChoiceField([one.value for one in Tool])
    text = serializers.CharField()


class KitGapSerializer(serializers.Serializer):
    """A kit that nobody looked into, or that lacks something."""

    loop = serializers.UUIDField()
    name = serializers.CharField()
    part = serializers.CharField()
    is_checked = serializers.BooleanField()
    items = serializers.ListField(child=serializers.CharField())
    missing = serializers.ListField(child=serializers.CharField())


class MaterialsSerializer(serializers.Serializer):
    """What is taken along."""

    rows = MaterialSerializer(many=True)
    tools = ToolSerializer(many=True)
    cost = serializers.FloatField()
    unpriced = serializers.IntegerField()
    kits = KitGapSerializer(many=True)
    loops = serializers.IntegerField()


class MinutesSpanSerializer(serializers.Serializer):
    """Low, typical and high [min]."""

    low = serializers.FloatField()
    typical = serializers.FloatField()
    high = serializers.FloatField()


class TaskMinutesSerializer(MinutesSpanSerializer):
    """What a task takes: the range, the firm's or the trade's, and what the firm's marks make of it."""

    task = serializers.CharField()
    text = serializers.CharField()
    is_own = serializers.BooleanField()
    version = serializers.IntegerField()
    by = serializers.CharField()
    marks = serializers.IntegerField(help_text="records of the firm that count")
    now = MinutesSpanSerializer()


class TaskMinutesSaveSerializer(MinutesSpanSerializer):
    """The firm's range of a task."""

    task = serializers.CharField(max_length=30)
    version = serializers.IntegerField(min_value=0)


class VanSaveSerializer(serializers.Serializer):
    """How much of something is in the van."""

    key = serializers.CharField(max_length=160)
    version = serializers.IntegerField(min_value=0)
    count = serializers.FloatField()


class VanSerializer(serializers.Serializer):
    """What is in the van of one thing."""

    key = serializers.CharField()
    version = serializers.IntegerField()
    count = serializers.FloatField()
