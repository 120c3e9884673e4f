"""Shapes of setting up."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.radio.budget import Band, Verdict
from ember_core.radio.mesh import Kind
from ember_core.rules.paths import Failure, Works
from setup.models import Came

REACHES = [*(one.value for one in Verdict), "unknown"]
LINKS = [one.value for one in Verdict]
BANDS = [one.value for one in Band]
KINDS = [one.value for one in Kind]
FAILURES = [one.value for one in Failure]
WORKS = [one.value for one in Works]


class ReachedDeviceSerializer(serializers.Serializer):
    """One device of a hub: whether it is in range, over what, and what would help."""

    id = serializers.CharField()
    name = serializers.CharField()
    room = serializers.CharField()
    gang = serializers.UUIDField(allow_null=True)
    card = serializers.CharField()
    verdict = serializers.ChoiceField(REACHES)
    verdict_text = serializers.CharField()
    hops = serializers.IntegerField(allow_null=True)
    margin_db = serializers.FloatField(allow_null=True, help_text="of the weakest link on its way")
    margin_low_db = serializers.FloatField(allow_null=True)
    margin_high_db = serializers.FloatField(allow_null=True)
    why = serializers.CharField()
    helps = serializers.ListField(child=serializers.CharField())
    has_joined = serializers.BooleanField()


class RadioLinkSerializer(serializers.Serializer):
    """A link between two devices."""

    a = serializers.CharField()
    b = serializers.CharField()
    margin_db = serializers.FloatField()
    verdict = serializers.ChoiceField(LINKS)


class CutPointSerializer(serializers.Serializer):
    """A device without which others are cut off."""

    id = serializers.CharField()
    text = serializers.CharField()


class ChannelOverlapSerializer(serializers.Serializer):
    """How much of a channel Wi-Fi covers."""

    channel = serializers.IntegerField()
    mhz = serializers.FloatField()


class ChannelsSerializer(serializers.Serializer):
    """The quietest channel of the mesh."""

    best = serializers.IntegerField()
    overlap_mhz = ChannelOverlapSerializer(many=True)
    text = serializers.CharField()


class HubFitsSerializer(serializers.Serializer):
    """A hub and what is meant for it."""

    id = serializers.CharField()
    name = serializers.CharField()
    room = serializers.CharField()
    takes = serializers.IntegerField(allow_null=True)
    has = serializers.IntegerField(allow_null=True)
    left = serializers.IntegerField(allow_null=True)
    wants = serializers.IntegerField()
    is_full = serializers.BooleanField(allow_null=True)
    text = serializers.CharField()
    devices = ReachedDeviceSerializer(many=True)
    links = RadioLinkSerializer(many=True)
    cut_points = CutPointSerializer(many=True)
    crowded = serializers.ListField(child=serializers.CharField())
    full_points = serializers.ListField(child=serializers.CharField())
    channel = ChannelsSerializer(allow_null=True)


class ConfusedNameSerializer(serializers.Serializer):
    """A name that will be confused."""

    name = serializers.CharField()
    other = serializers.CharField()
    code = serializers.CharField()
    text = serializers.CharField()


class CardSerializer(serializers.Serializer):
    """How a kind of device is commissioned."""

    code = serializers.CharField()
    text = serializers.CharField()
    band = serializers.ChoiceField(BANDS)
    kind = serializers.ChoiceField(KINDS)
    companion = serializers.CharField()
    window_s = serializers.FloatField()
    join_s = serializers.FloatField()
    how = serializers.CharField()
    shows = serializers.CharField()
    reset = serializers.CharField()


class HouseGangSerializer(serializers.Serializer):
    """A gang that a device may control."""

    id = serializers.UUIDField()
    loop = serializers.UUIDField()
    loop_name = serializers.CharField()
    position = serializers.IntegerField()
    name = serializers.CharField()
    proposed = serializers.CharField(help_text="what a device that controls it could be called")


class HouseSerializer(serializers.Serializer):
    """The radio of a site: what was noted, and what comes of it."""

    site = serializers.UUIDField()
    document = serializers.DictField()
    version = serializers.IntegerField()
    hubs = HubFitsSerializer(many=True)
    names = ConfusedNameSerializer(many=True)
    gangs = HouseGangSerializer(many=True)
    cards = CardSerializer(many=True)


class HouseKeepSerializer(serializers.Serializer):
    """What was noted, whole."""

    version = serializers.IntegerField(min_value=0)
    document = serializers.DictField()


class PairStepSerializer(serializers.Serializer):
    """One step of joining."""

    key = serializers.CharField()
    do = serializers.CharField()
    device = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()
    how = serializers.CharField()
    shows = serializers.CharField()
    back_out = serializers.CharField()
    begin_s = serializers.FloatField()
    end_s = serializers.FloatField()
    latest_s = serializers.FloatField(allow_null=True, help_text="a window closes then")
    window_s = serializers.FloatField(allow_null=True, help_text="of the network, or of the device, once it is open")
    is_marked = serializers.BooleanField(help_text="what came of it is kept")


class AgainSerializer(serializers.Serializer):
    """What to repeat after a miss, where network and device are still open for so long; null: however long."""

    network_s = serializers.FloatField(allow_null=True)
    window_s = serializers.FloatField(allow_null=True)
    steps = PairStepSerializer(many=True)


class PlanStepSerializer(PairStepSerializer):
    """A step of the plan; what to repeat when it was missed: the first whose windows are still open serves."""

    again = AgainSerializer(many=True)


class AgainstSerializer(serializers.Serializer):
    """What keeps the plan from being possible."""

    code = serializers.CharField()
    device = serializers.CharField()
    text = serializers.CharField()


class JoinedDeviceSerializer(serializers.Serializer):
    """A device that is in, under which name, and who saw to it."""

    id = serializers.CharField()
    name = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class PairMarkSerializer(serializers.Serializer):
    """What came of a step."""

    id = serializers.UUIDField()
    step = serializers.CharField()
    device = serializers.CharField()
    name = serializers.CharField()
    came = serializers.ChoiceField(Came.choices)
    note = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class OpenDeviceSerializer(serializers.Serializer):
    """A device that is not in yet."""

    id = serializers.CharField()
    name = serializers.CharField()
    is_left_out = serializers.BooleanField()


class LockedBreakerSerializer(serializers.Serializer):
    """A breaker that is kept off; no name for the whole installation."""

    breaker = serializers.CharField(allow_blank=True)
    text = serializers.CharField()


class PairingSerializer(serializers.Serializer):
    """The plan of a hub."""

    hub = serializers.CharField()
    hub_name = serializers.CharField()
    is_possible = serializers.BooleanField()
    is_done = serializers.BooleanField()
    open = OpenDeviceSerializer(many=True)
    locked = LockedBreakerSerializer(many=True)
    against = AgainstSerializer(many=True)
    seconds = serializers.FloatField()
    steps = PlanStepSerializer(many=True)
    joined = JoinedDeviceSerializer(many=True)
    marks = PairMarkSerializer(many=True)


class PairMarkMakeSerializer(serializers.Serializer):
    """A mark as it is sent."""

    id = serializers.UUIDField()
    hub = serializers.CharField(max_length=80)
    step = serializers.CharField(max_length=200)
    came = serializers.ChoiceField(Came.choices)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    made_at = serializers.DateTimeField(allow_null=True, default=None)


class RehearseAskSerializer(serializers.Serializer):
    """A rehearsal, with steps that hands come to late [s]."""

    hub = serializers.CharField(max_length=80)
    without = serializers.ListField(child=serializers.CharField(max_length=80), max_length=250, default=list)
    late = serializers.DictField(child=serializers.FloatField(min_value=0.0, max_value=86_400.0), default=dict)


class RehearsedStepSerializer(serializers.Serializer):
    """One step on the stand-in."""

    key = serializers.CharField()
    at_s = serializers.FloatField()
    worked = serializers.BooleanField()


class HubEventSerializer(serializers.Serializer):
    """Something that happened at the stand-in."""

    at_s = serializers.FloatField()
    device = serializers.CharField()
    name = serializers.CharField()
    code = serializers.CharField()
    text = serializers.CharField()
    is_refusal = serializers.BooleanField()


class RehearsalSerializer(serializers.Serializer):
    """What a rehearsal brought."""

    steps = RehearsedStepSerializer(many=True)
    joined = serializers.ListField(child=serializers.CharField())
    is_complete = serializers.BooleanField()
    missing = serializers.ListField(child=serializers.CharField())
    events = HubEventSerializer(many=True)


TRY_ACTS = ["level", "cut", "back", "starve", "feed"]


class TryActSerializer(serializers.Serializer):
    """Something that is tried on the stand-in."""

    act = serializers.ChoiceField(TRY_ACTS)
    name = serializers.CharField(max_length=80, help_text="a device, or a breaker")
    level = serializers.FloatField(min_value=0.0, max_value=1.0, default=0.0)


class TryAskSerializer(serializers.Serializer):
    """What is tried, from the beginning."""

    hub = serializers.CharField(max_length=80)
    without = serializers.ListField(child=serializers.CharField(max_length=80), max_length=250, default=list)
    acts = TryActSerializer(many=True)


class TriedActSerializer(serializers.Serializer):
    """What came of one."""

    text = serializers.CharField()
    is_refusal = serializers.BooleanField()


class TriedDeviceSerializer(serializers.Serializer):
    """A device as it is afterwards."""

    id = serializers.CharField()
    name = serializers.CharField()
    level = serializers.FloatField()
    breaker = serializers.CharField(allow_blank=True)


class TriedSerializer(serializers.Serializer):
    """What came of everything that was tried."""

    told = TriedActSerializer(many=True)
    devices = TriedDeviceSerializer(many=True)


class LitTimeSerializer(serializers.Serializer):
    """The light is on; local time with its offset from UTC."""

    begin = serializers.CharField()
    end = serializers.CharField()
    day = serializers.DateField()


class ProgramDaySerializer(serializers.Serializer):
    """A local day; those on which the clock changes are not of 24 hours."""

    day = serializers.DateField()
    hours = serializers.FloatField()
    begin = serializers.CharField()


class ProgramConflictSerializer(serializers.Serializer):
    """What goes against what."""

    code = serializers.CharField()
    programs = serializers.ListField(child=serializers.IntegerField())
    day = serializers.DateField(allow_null=True)
    times = serializers.IntegerField()
    text = serializers.CharField()


class ClockLostSerializer(serializers.Serializer):
    """The control knew no time."""

    begin = serializers.CharField()
    end = serializers.CharField(allow_null=True)


class ProgramsSerializer(serializers.Serializer):
    """Programs of a gang and what they bring."""

    document = serializers.DictField()
    version = serializers.IntegerField()
    missing = serializers.ListField(child=serializers.CharField(), help_text="codes of what the site lacks")
    levels_how = serializers.CharField(help_text="how the levels of this control are set; empty where unknown")
    first = serializers.CharField()
    zone = serializers.CharField()
    days = ProgramDaySerializer(many=True)
    on = LitTimeSerializer(many=True)
    hours = serializers.FloatField()
    hours_a_year = serializers.FloatField()
    kwh_a_year = serializers.FloatField(allow_null=True)
    conflicts = ProgramConflictSerializer(many=True)
    clock_lost = ClockLostSerializer(many=True)


class ProgramsKeepSerializer(serializers.Serializer):
    """Programs, whole."""

    version = serializers.IntegerField(min_value=0)
    document = serializers.DictField()


class ProgramsTrySerializer(serializers.Serializer):
    """Programs to be tried, from a day on, with power cuts."""

    document = serializers.DictField()
    first = serializers.DateField()
    outages = serializers.ListField(child=serializers.DictField(), max_length=20, default=list)


class FailureSerializer(serializers.Serializer):
    """Something that may fail."""

    code = serializers.ChoiceField(FAILURES)
    text = serializers.CharField()


class WorksCellSerializer(serializers.Serializer):
    """What is left for one lamp after one failure."""

    failure = serializers.ChoiceField(FAILURES)
    works = serializers.ChoiceField(WORKS)
    works_text = serializers.CharField()
    left = serializers.ListField(child=serializers.CharField())
    lost = serializers.ListField(child=serializers.CharField())
    by = serializers.CharField()


class WorksLampSerializer(serializers.Serializer):
    """One lamp."""

    gang = serializers.UUIDField()
    loop = serializers.UUIDField(allow_null=True)
    name = serializers.CharField()
    never = serializers.ListField(
        child=serializers.CharField(), help_text="ways that do not work though nothing has failed"
    )
    unknown = serializers.ListField(
        child=serializers.CharField(), help_text="ways of which nobody can say, since what lies between is not noted"
    )
    cells = WorksCellSerializer(many=True)


class WorksTableSerializer(serializers.Serializer):
    """Lamp by failure."""

    failures = FailureSerializer(many=True)
    lamps = WorksLampSerializer(many=True)
