"""Serializers of loops and gangs."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from ember_core.bypass.place import Where
from ember_core.handover.stages import Stage
from ember_core.spread.variables import DEFAULT_SAMPLES
from judging.api.shapes_lit import EDGES, GOES, LOAD_STATES, VIEWS
from judging.api.shapes_spread import MeasurementSerializer
from judging.services.loads import short
from judging.services.summing import cause_text
from judging.verdicts import VerdictWord, WorksWord
from loops.basis import outdated
from loops.documents import gang_document, hung_of
from loops.models import FitStatus, Gang, Loop, MeasuredValue, NextStep, Occasion, WiredWord
from sites.models import Circuit, Site
from wording.texts import catalogue

PLACES = [where.value for where in Where]


class LoadNoteSerializer(serializers.Serializer):
    """What the round says of a load: within or not, in lamps, and whether the control drives them."""

    state = serializers.ChoiceField(choices=LOAD_STATES)
    text = serializers.CharField()
    lit = serializers.ChoiceField(choices=GOES)
    lit_text = serializers.CharField()


class ChosenWaySerializer(serializers.Serializer):
    """The way that was chosen for a loop."""

    way = serializers.CharField()
    title = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    works = serializers.ChoiceField(WorksWord.choices)
    on_bench = serializers.BooleanField(help_text="its control is the one that the bench judges")


class LoopRowSerializer(serializers.ModelSerializer):
    """A row of the round."""

    site_name = serializers.CharField(source="site.name", read_only=True)
    breaker = serializers.CharField(source="circuit.breaker", default="", read_only=True)
    next_step_text = serializers.SerializerMethodField()
    assigned_name = serializers.SerializerMethodField()
    gang_count = serializers.IntegerField(read_only=True)
    load = serializers.SerializerMethodField()
    why = serializers.SerializerMethodField()
    outdated = serializers.SerializerMethodField()
    next_position = serializers.SerializerMethodField()
    stage = serializers.ChoiceField([stage.value for stage in Stage], read_only=True)
    stage_text = serializers.SerializerMethodField()
    chosen = serializers.SerializerMethodField()

    class Meta:
        model = Loop
        fields = (
            "id",
            "site",
            "site_name",
            "circuit",
            "breaker",
            "name",
            "note",
            "assigned",
            "assigned_name",
            "due_on",
            "verdict",
            "works",
            "why",
            "outdated",
            "next_step",
            "next_step_text",
            "next_position",
            "stage",
            "stage_text",
            "chosen",
            "gang_count",
            "load",
            "changed_at",
            "version",
        )

    def get_next_step_text(self, loop: Loop) -> str:
        """The next step in a few words."""
        return str(NextStep(loop.next_step).label)

    def get_assigned_name(self, loop: Loop) -> str:
        """Whose work it is; empty where nobody said."""
        return str(loop.assigned) if loop.assigned else ""

    @extend_schema_field(serializers.CharField())
    def get_outdated(self, loop: Loop) -> str:
        """Why what was judged no longer holds; empty where it does."""
        reason = outdated(loop.judged_on, loop.site)
        return str(catalogue("overall")["outdated"][reason]) if reason else ""

    @extend_schema_field(serializers.CharField())
    def get_stage_text(self, loop: Loop) -> str:
        """Where it stands, in a word or two; empty while nobody computed it."""
        return str(catalogue("handover")["stages"][loop.stage]) if loop.stage else ""

    @extend_schema_field(ChosenWaySerializer(allow_null=True))
    def get_chosen(self, loop: Loop) -> dict[str, Any] | None:
        """What was chosen, with how it was judged then."""
        if not loop.chosen:
            return None
        title = catalogue("routes")["ways"][loop.chosen["way"]]["title"]
        return {**{name: loop.chosen[name] for name in ("way", "label", "works", "on_bench")}, "title": title}

    def get_next_position(self, loop: Loop) -> int:
        """The gang at which the next step is taken, from 1."""
        position: int = loop.overall.get("position", 1)
        return position

    @extend_schema_field(serializers.CharField())
    def get_why(self, loop: Loop) -> str:
        """What the one verdict rests on, in a sentence; empty where nothing was judged."""
        return cause_text(loop.overall)

    @extend_schema_field(LoadNoteSerializer(allow_null=True))
    def get_load(self, loop: Loop) -> dict[str, str] | None:
        """Least and largest load in a few words; null where nothing was judged."""
        if not loop.load:
            return None
        texts = catalogue("dimming")
        return {
            "state": loop.load["state"],
            "text": short(loop.load),
            "lit": loop.load["lit"],
            "lit_text": texts["verdicts"][loop.load["lit"]],
        }


class LoopMakeSerializer(serializers.Serializer):
    """What a new loop needs."""

    site = serializers.PrimaryKeyRelatedField(queryset=Site.objects.all())
    circuit = serializers.PrimaryKeyRelatedField(queryset=Circuit.objects.all(), allow_null=True, required=False)
    name = serializers.CharField(max_length=120)
    note = serializers.CharField(max_length=500, required=False, allow_blank=True)


class LoopChangeSerializer(serializers.ModelSerializer):
    """What a person changes of a loop: name, breaker, note, whose work it is, when it is due."""

    version = serializers.IntegerField(min_value=1)

    class Meta:
        model = Loop
        fields = ("circuit", "name", "note", "assigned", "due_on", "version")
        validators: list[object] = []


class FitSerializer(serializers.Serializer):
    """A part on a gang; the core checks its figures."""

    part = serializers.UUIDField(allow_null=True, default=None)
    label = serializers.CharField(max_length=160, allow_blank=True, default="")  # type: ignore[assignment]  # the framework has an attribute of that name
    status = serializers.ChoiceField(choices=FitStatus.choices, default=FitStatus.PLANNED)
    figures = serializers.DictField(child=serializers.JSONField(allow_null=True))


class ControlFitSerializer(FitSerializer):
    """The control on a gang, and how it hangs in the loop."""

    wired = serializers.ChoiceField(
        choices=WiredWord.choices, required=False, help_text="left out: as the leaflet of its part has it"
    )


class PlaceSerializer(serializers.Serializer):
    """Where a bypass goes or is; null for what nobody looked at."""

    where = serializers.ChoiceField(choices=PLACES, default=PLACES[0])
    name = serializers.CharField(max_length=60, allow_blank=True, default="")
    has_both_conductors = serializers.BooleanField(allow_null=True, default=None)
    is_reachable = serializers.BooleanField(allow_null=True, default=None)
    room_m = serializers.FloatField(allow_null=True, min_value=1e-3, max_value=1.0, default=None)
    takes_adapter = serializers.BooleanField(allow_null=True, default=None)
    in_insulation = serializers.BooleanField(allow_null=True, default=None)


def _angle() -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, min_value=1.0, max_value=180.0, default=None)


class TrimsSerializer(serializers.Serializer):
    """What was found and set of a dimmer on site, in degrees of conduction; null for what nobody looked at."""

    drop_out_deg = _angle()
    pop_on_deg = _angle()
    full_deg = _angle()
    least_deg = _angle()
    start_deg = _angle()
    top_deg = _angle()


class GangSerializer(serializers.Serializer):
    """A gang as one document."""

    id = serializers.UUIDField()
    loop = serializers.UUIDField()
    position = serializers.IntegerField()
    name = serializers.CharField()
    cable = serializers.DictField(child=serializers.JSONField(allow_null=True))
    place = PlaceSerializer(allow_null=True)
    trims = TrimsSerializer(allow_null=True)
    control = ControlFitSerializer(allow_null=True)
    bypasses = FitSerializer(many=True)
    lamps = FitSerializer(many=True)
    verdict = serializers.ChoiceField(choices=VerdictWord.choices)
    works = serializers.ChoiceField(choices=WorksWord.choices)
    version = serializers.IntegerField()
    hung = serializers.CharField(help_text="a mark of the parts that hang there; a reading of them gives it back")

    def to_representation(self, instance: Gang) -> dict[str, object]:
        """The document itself, and the mark of its parts."""
        return {**gang_document(instance), "hung": hung_of(instance)}


class GangDraftSerializer(serializers.Serializer):
    """What is tried on the bench."""

    name = serializers.CharField(max_length=120, allow_blank=True, default="")
    cable = serializers.DictField(child=serializers.JSONField(allow_null=True))
    place = PlaceSerializer(allow_null=True, default=None)
    trims = TrimsSerializer(allow_null=True, default=None)
    control = ControlFitSerializer(allow_null=True)
    bypasses = FitSerializer(many=True)
    lamps = FitSerializer(many=True)


class GangSpreadRequestSerializer(GangDraftSerializer):
    """What is tried, how many samples of it, and which."""

    samples = serializers.IntegerField(min_value=8, max_value=512, default=DEFAULT_SAMPLES)
    seed = serializers.IntegerField(min_value=0, max_value=2**31 - 1, default=1)


class GangNarrowRequestSerializer(GangDraftSerializer):
    """What is tried, and what was read of it."""

    readings = MeasurementSerializer(many=True, allow_empty=False)
    seed = serializers.IntegerField(min_value=0, max_value=2**31 - 1, default=1)


class GangChooseRequestSerializer(GangDraftSerializer):
    """What is tried, and how a year of it is reckoned."""

    hours_a_year = serializers.FloatField(min_value=0.0, max_value=8784.0, default=1000.0)
    price_per_kwh = serializers.FloatField(min_value=0.0, max_value=1e4, allow_null=True, default=None)


class GangAfterRequestSerializer(GangNarrowRequestSerializer):
    """What is fitted, and what was read with it."""


class GangLitRequestSerializer(GangDraftSerializer):
    """What is tried, on which edge (of a control that can do both), and at which level."""

    edge = serializers.ChoiceField(choices=EDGES, allow_blank=True, default="")
    level_deg = serializers.FloatField(min_value=5.0, max_value=175.0, allow_null=True, default=None)
    headroom_ratio = serializers.FloatField(min_value=1.0, max_value=10.0, allow_null=True, default=None)
    view = serializers.ChoiceField(choices=VIEWS, allow_blank=True, default="")


class GangSweepRequestSerializer(GangDraftSerializer):
    """What is tried, and the figure that is dragged."""

    path = serializers.CharField(max_length=80)


class GangKeepSerializer(GangDraftSerializer):
    """What the bench keeps, and the version it was made from."""

    version = serializers.IntegerField(min_value=1)


class LoopSerializer(LoopRowSerializer):
    """A loop with its gangs, its site's supply and words."""

    gangs = GangSerializer(many=True, read_only=True)
    region = serializers.CharField(source="site.region", read_only=True)
    v_rms = serializers.FloatField(source="site.v_rms", read_only=True)
    f_hz = serializers.FloatField(source="site.f_hz", read_only=True)
    tolerance_ratio = serializers.FloatField(source="site.tolerance_ratio", read_only=True)
    zone = serializers.CharField(source="site.zone", read_only=True, help_text="times are told in it; empty: UTC")
    label_as_found = serializers.CharField(source="circuit.label_as_found", default="", read_only=True)
    label_now = serializers.CharField(source="circuit.label_now", default="", read_only=True)
    chosen_way = serializers.SerializerMethodField()

    def get_chosen_way(self, loop: Loop) -> str | None:
        """The way that was chosen last; null where none was."""
        newest: str | None = loop.routes.values_list("way", flat=True).first()
        return newest

    class Meta(LoopRowSerializer.Meta):
        fields: tuple[str, ...] = (  # type: ignore[assignment]  # longer than the row's
            *LoopRowSerializer.Meta.fields,
            "gangs",
            "region",
            "v_rms",
            "f_hz",
            "tolerance_ratio",
            "zone",
            "label_as_found",
            "label_now",
            "chosen_way",
        )


class GangMakeSerializer(serializers.Serializer):
    """A new gang; its identity may be the sender's."""

    id = serializers.UUIDField(required=False)


class MeasuredSerializer(serializers.ModelSerializer):
    """A measured value on record."""

    by = serializers.CharField(source="by.display_name", default="", read_only=True)
    reading = MeasurementSerializer(source="data")
    is_of_other_parts = serializers.SerializerMethodField()

    class Meta:
        model = MeasuredValue
        fields = (
            "id",
            "occasion",
            "reading",
            "meter",
            "made_at",
            "at",
            "by",
            "struck_reason",
            "is_of_other_parts",
        )

    @staticmethod
    def of(gang: Gang) -> list[dict[str, object]]:
        """All of a gang, oldest first."""
        rows = gang.measured.select_related("by")
        return list(MeasuredSerializer(rows, many=True, context={"hung": hung_of(gang)}).data)

    def get_is_of_other_parts(self, row: MeasuredValue) -> bool:
        """Something else hung there than hangs there now."""
        return row.hung not in ("", self.context.get("hung") or hung_of(row.gang))


class MeasuredKeepSerializer(serializers.Serializer):
    """A new measured value; its identity is the sender's."""

    id = serializers.UUIDField()
    occasion = serializers.ChoiceField(choices=Occasion.choices)
    reading = MeasurementSerializer()
    meter = serializers.CharField(max_length=80, allow_blank=True, default="")
    made_at = serializers.DateTimeField(allow_null=True, default=None)
    hung = serializers.RegexField(
        r"^[0-9a-f]{40}\Z",
        allow_blank=True,
        default="",
        help_text="what its gang said hangs there when it was taken; empty: what hangs there as it arrives",
    )

    def validate_reading(self, value: dict[str, object]) -> dict[str, object]:
        """A plain dictionary, as it is stored."""
        return dict(value)


class StrikeSerializer(serializers.Serializer):
    """Why it is struck out."""

    reason = serializers.CharField(max_length=200)


class OutdatedSerializer(serializers.Serializer):
    """A gang whose judgement no longer holds, and why."""

    gang = serializers.UUIDField()
    loop = serializers.UUIDField()
    loop_name = serializers.CharField()
    text = serializers.CharField()
