"""Shapes of the work."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.routes.aloft import At, HangsOn, Junction, LampsThere, OwnNeutral
from ember_core.routes.ways import Way
from judging.api.shapes import ENDED

WAYS = [way.value for way in Way]
AT = [at.value for at in At]
# Of the own circuit or another: the neutral of a lamp, and what a gang hangs on.
WHOSE = [one.value for one in OwnNeutral]


class ValueSerializer(serializers.Serializer):
    """A value that is weighed."""

    value = serializers.CharField()
    text = serializers.CharField()


class KeyNameSerializer(serializers.Serializer):
    """A part by its key."""

    key = serializers.CharField()
    name = serializers.CharField()


class GangBypassSerializer(serializers.Serializer):
    """The bypass that a gang was judged with."""

    gang = serializers.IntegerField()
    key = serializers.CharField()
    name = serializers.CharField()


class SpanSerializer(serializers.Serializer):
    """How long something takes [min]: as likely more as less, and nine of ten within."""

    likely = serializers.IntegerField()
    within = serializers.IntegerField()


class WayRowSerializer(serializers.Serializer):
    """One way, with everything that is compared."""

    way = serializers.ChoiceField(WAYS)
    title = serializers.CharField()
    text = serializers.CharField()
    against = serializers.CharField(allow_null=True)
    is_usable = serializers.BooleanField()
    control = serializers.CharField(allow_null=True)
    control_name = serializers.CharField()
    others = KeyNameSerializer(many=True)
    bypass = GangBypassSerializer(many=True)
    works = serializers.CharField()
    works_title = serializers.CharField()
    works_text = serializers.CharField()
    gang = serializers.IntegerField(help_text="the gang that fares worst")
    well_count = serializers.IntegerField()
    sample_count = serializers.IntegerField()
    is_share_told = serializers.BooleanField(help_text="`works_text` says in how many of them it works")
    fit = serializers.CharField(allow_null=True)
    fit_text = serializers.CharField()
    dims = serializers.CharField()
    hub = serializers.CharField()
    power = serializers.CharField()
    flipped = serializers.CharField()
    isolation = serializers.CharField()
    rule = serializers.CharField()
    losses = serializers.ListField(child=serializers.CharField())
    dims_mode = serializers.CharField(help_text="phase mode of a dimmer; empty for one that switches only")
    minutes = SpanSerializer()
    price = serializers.FloatField(allow_null=True)
    is_reversible = serializers.BooleanField()
    notes = serializers.ListField(child=serializers.CharField())
    cautions = serializers.ListField(child=serializers.CharField())


class ComparisonSerializer(serializers.Serializer):
    """The ways, best first."""

    rows = WayRowSerializer(many=True)
    favoured = serializers.ChoiceField(WAYS, allow_null=True)
    because = serializers.CharField()
    elsewhere = serializers.ListField(child=serializers.CharField())
    is_complete = serializers.BooleanField()
    ended = serializers.CharField(help_text=ENDED)


class MapLineSerializer(serializers.Serializer):
    """One thing that hands do."""

    key = serializers.CharField()
    place = serializers.CharField()
    text = serializers.CharField()
    kind = serializers.CharField()
    points = serializers.ListField(child=serializers.CharField())
    note = serializers.CharField(help_text="torque of the terminal's screw, where it is declared")


class WiringFindingSerializer(serializers.Serializer):
    """A fault, or something to know, and when."""

    code = serializers.CharField()
    severity = serializers.CharField()
    text = serializers.CharField()
    state = serializers.DictField(child=serializers.CharField(), allow_null=True)
    when = serializers.CharField()


class WiringStateSerializer(serializers.Serializer):
    """What one combination of positions does."""

    positions = serializers.DictField(child=serializers.CharField())
    text = serializers.CharField()
    lamps = serializers.DictField(child=serializers.CharField())
    lamp_text = serializers.CharField()
    supplied = serializers.DictField(child=serializers.CharField())
    supply_text = serializers.CharField()
    live = serializers.ListField(child=serializers.CharField())


class SeatSerializer(serializers.Serializer):
    """A terminal or joint."""

    id = serializers.CharField()
    name = serializers.CharField()
    device = serializers.CharField(allow_null=True)


class MapPlaceSerializer(serializers.Serializer):
    """A place with its terminals and joints."""

    id = serializers.CharField()
    name = serializers.CharField()
    seats = SeatSerializer(many=True)


class CoreEndSerializer(serializers.Serializer):
    """One end of a core, found and wanted."""

    point = serializers.CharField()
    place = serializers.CharField()
    name = serializers.CharField()
    before = serializers.CharField(allow_null=True)
    after = serializers.CharField(allow_null=True)
    before_text = serializers.CharField()
    after_text = serializers.CharField()


class MapCoreSerializer(serializers.Serializer):
    """A core of the drawing."""

    id = serializers.CharField()
    name = serializers.CharField()
    colour = serializers.CharField()
    marked = serializers.CharField(allow_null=True)
    is_new = serializers.BooleanField()
    ends = CoreEndSerializer(many=True)


class MapDeviceSerializer(serializers.Serializer):
    """A device of the wanted wiring."""

    id = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.CharField()
    is_new = serializers.BooleanField()


class MapLeadsSerializer(serializers.Serializer):
    """A lamp, bypass or diode, and the two seats of its leads as wanted."""

    device = serializers.CharField()
    kind = serializers.CharField()
    seats = serializers.ListField(child=serializers.CharField(allow_null=True))


class MapDrawingSerializer(serializers.Serializer):
    """The drawing."""

    places = MapPlaceSerializer(many=True)
    cores = MapCoreSerializer(many=True)
    devices = MapDeviceSerializer(many=True)
    leads = MapLeadsSerializer(many=True)


class SittingCoreSerializer(serializers.Serializer):
    """A core that is to sit at a terminal, by its name at that place."""

    id = serializers.CharField()
    name = serializers.CharField()


class LaidSeatSerializer(serializers.Serializer):
    """A terminal or joint as a row of its place; an empty name is a capped end. Lengths in the drawing's own unit."""

    id = serializers.CharField()
    name = serializers.CharField()
    cores = SittingCoreSerializer(many=True, help_text="those that are to sit there")
    column = serializers.IntegerField()
    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()


class LaidPlaceSerializer(serializers.Serializer):
    """A place as a box of the drawing."""

    id = serializers.CharField()
    name = serializers.CharField()
    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    height = serializers.FloatField()


class LaidCoreSerializer(serializers.Serializer):
    """The way of a core as an SVG path, and where its name stands."""

    id = serializers.CharField()
    path = serializers.CharField()
    x = serializers.FloatField()
    y = serializers.FloatField()


class LaidSymbolSerializer(serializers.Serializer):
    """A lamp, bypass or diode between two rows; the first may lie below the second."""

    device = serializers.CharField()
    kind = serializers.CharField()
    x = serializers.FloatField()
    y1 = serializers.FloatField()
    y2 = serializers.FloatField()


class MapLayoutSerializer(serializers.Serializer):
    """Where all of the drawing lies, on the screen as on paper."""

    width = serializers.FloatField()
    height = serializers.FloatField()
    places = LaidPlaceSerializer(many=True)
    seats = LaidSeatSerializer(many=True)
    found = LaidCoreSerializer(many=True)
    wanted = LaidCoreSerializer(many=True)
    symbols = LaidSymbolSerializer(many=True)


class WireMapSerializer(serializers.Serializer):
    """Found to wanted, in the order of hands, and back."""

    lines = MapLineSerializer(many=True)
    back = MapLineSerializer(many=True)
    works = serializers.BooleanField()
    findings = WiringFindingSerializer(many=True)
    drawing = MapDrawingSerializer()
    layout = MapLayoutSerializer()
    states = WiringStateSerializer(many=True)


class WaySerializer(serializers.Serializer):
    """One way with its wire map; none where it cannot be."""

    row = WayRowSerializer()
    map = WireMapSerializer(allow_null=True)


class WayAskSerializer(serializers.Serializer):
    """A way, and a control where another than the first is meant."""

    way = serializers.ChoiceField(WAYS)
    control = serializers.CharField(max_length=60, allow_null=True, default=None)


class WayChoiceMakeSerializer(WayAskSerializer):
    """Choosing one."""

    id = serializers.UUIDField()
    number = serializers.IntegerField(min_value=0, help_text="of the newest choice that was seen; 0 for none")
    why = serializers.CharField(max_length=300, allow_blank=True, default="")
    basis = serializers.JSONField(help_text="what the ways stood on when they were looked at")


class WayChoiceSerializer(serializers.Serializer):
    """A choice on record."""

    id = serializers.UUIDField()
    number = serializers.IntegerField()
    way = serializers.CharField()
    title = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # a field of that name
    why = serializers.CharField()
    favoured_title = serializers.CharField(help_text="what the comparison favoured then; empty for this one")
    at = serializers.DateTimeField()
    by = serializers.CharField()
    is_begun = serializers.BooleanField(help_text="fitting by it has begun")
    is_current = serializers.BooleanField(help_text="what it stands on has not changed since")
    is_other_wiring = serializers.BooleanField(help_text="the record says another wiring than it was chosen for")
    core_version = serializers.CharField()


class CeilingSeenSerializer(serializers.Serializer):
    """What was seen outside the box, of one gang."""

    line = serializers.ChoiceField(AT, default=At.UNKNOWN.value)
    neutral = serializers.ChoiceField(WHOSE, default=OwnNeutral.UNKNOWN.value)
    spare = serializers.ChoiceField(AT, default=At.UNKNOWN.value)
    lamps = serializers.ChoiceField([one.value for one in LampsThere], default=LampsThere.UNKNOWN.value)
    junction = serializers.ChoiceField(
        [one.value for one in Junction],
        default=Junction.UNKNOWN.value,
        help_text="the junction box in which the cable from the box ends; gangs of one number share it",
    )
    hangs_on = serializers.ChoiceField(WHOSE, default=HangsOn.UNKNOWN.value)


class CeilingSerializer(serializers.Serializer):
    """A ceiling point as it is on record."""

    gang = serializers.UUIDField()
    position = serializers.IntegerField()
    name = serializers.CharField()
    seen = CeilingSeenSerializer()
    version = serializers.IntegerField()


class CeilingSaveSerializer(serializers.Serializer):
    """Saying what is there."""

    version = serializers.IntegerField(min_value=0)
    seen = CeilingSeenSerializer()


class WayOrderSerializer(serializers.Serializer):
    """What the firm weighs first."""

    values = ValueSerializer(many=True)
    version = serializers.IntegerField()
    may_set = serializers.BooleanField()


class WayOrderSaveSerializer(serializers.Serializer):
    """Setting it."""

    version = serializers.IntegerField(min_value=0)
    values = serializers.ListField(child=serializers.CharField(max_length=20), max_length=10)


class CheckedDrawingSerializer(serializers.Serializer):
    """A drawing on record, and what it would do."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]  # a field of that name
    corrects = serializers.UUIDField(allow_null=True)
    document = serializers.JSONField()
    works = serializers.BooleanField()
    verdict = serializers.CharField()
    findings = WiringFindingSerializer(many=True)
    states = WiringStateSerializer(many=True)
    differs = serializers.ListField(child=serializers.CharField())
    at = serializers.DateTimeField()
    by = serializers.CharField()


class DrawingMakeSerializer(serializers.Serializer):
    """Keeping one."""

    id = serializers.UUIDField()
    name = serializers.CharField(max_length=120)
    source = serializers.CharField(max_length=300, allow_blank=True, default="")  # type: ignore[assignment]  # a field of that name
    document = serializers.JSONField()
    corrects = serializers.UUIDField(allow_null=True, default=None)


class DrawingCheckSerializer(serializers.Serializer):
    """A drawing that is only tried."""

    document = serializers.JSONField()


class DrawingVerdictSerializer(serializers.Serializer):
    """What it would do."""

    works = serializers.BooleanField()
    verdict = serializers.CharField()
    findings = WiringFindingSerializer(many=True)
    states = WiringStateSerializer(many=True)
    differs = serializers.ListField(child=serializers.CharField())


class WorkSerializer(serializers.Serializer):
    """What is known and decided of a loop's ways."""

    against = serializers.CharField(allow_null=True)
    mend_at = serializers.ChoiceField(["box", "parts", "here", ""], help_text="where what stands against all is mended")
    assumed = serializers.ListField(child=serializers.CharField())
    open_roles = serializers.ListField(child=serializers.CharField())
    order = ValueSerializer(many=True)
    ceiling = CeilingSerializer(many=True)
    asks_circuit = serializers.BooleanField(help_text="several gangs and circuits: it counts which hangs on which")
    choices = WayChoiceSerializer(many=True)
    chosen_map = WireMapSerializer(allow_null=True)
    basis = serializers.JSONField(help_text="versions of everything that it stands on")
    start = serializers.JSONField(help_text="a drawing to begin with: the wanted wiring, or the found one")
