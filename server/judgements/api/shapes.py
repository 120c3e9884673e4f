"""Serializers that describe a judgement; the data comes from `services.judging`."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from ember_core.bypass.schools import School
from ember_core.dimming.compatibility import Goes
from ember_core.findings import Severity
from ember_core.offstate.closed_form import Form
from ember_core.offstate.states import LampState, StandbyState
from ember_core.quantities import Source
from ember_core.spread.narrow import Kind
from judgements.models import Judgement
from loops.models import VerdictWord
from sites.models import Region


def _optional() -> serializers.FloatField:
    return serializers.FloatField(allow_null=True)


def _choices(values: type) -> list[str]:
    return [entry.value for entry in values]  # type: ignore[attr-defined]


KIND_CATEGORIES = ["lamp", "bypass", "standby", "control", "cable"]
STANDBY_STATES = _choices(StandbyState)
LAMP_STATES = _choices(LampState)
SOURCES = _choices(Source)
SEVERITIES = _choices(Severity)
FORMS = _choices(Form)


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
    v_dc = _optional()
    v_dc_max = _optional()
    string_i_avg_a = _optional()
    light_p_w = serializers.FloatField()
    v_start_v = _optional()
    start_margin_ratio = _optional()
    flash_period_s = _optional()
    flash_energy_j = _optional()
    flashes = serializers.IntegerField()


class ControlResultSerializer(serializers.Serializer):
    """The control's supply."""

    state = serializers.ChoiceField(choices=STANDBY_STATES, allow_null=True)
    standby_v_dc = _optional()
    standby_v_min = _optional()
    p_needed_w = _optional()
    p_available_w = _optional()
    power_ratio = _optional()
    delivered_ratio = _optional()
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
    standby_v_dc = _optional()
    feed_i_avg_a = _optional()
    lamp_v_peak = serializers.FloatField()
    p_max_w = _optional()
    operating_point = serializers.BooleanField()


class NumericsSerializer(serializers.Serializer):
    """How it was solved."""

    method = serializers.CharField()
    steps_per_cycle = serializers.IntegerField()
    half_cycles = serializers.IntegerField()
    residual_v = serializers.FloatField()
    energy_balance_ratio = _optional()


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


class StoredJudgementSerializer(serializers.ModelSerializer):
    """A row of a gang's judgements."""

    made_by = serializers.CharField(source="made_by.display_name", default="", read_only=True)

    class Meta:
        model = Judgement
        fields = ("id", "gang", "made_at", "made_by", "core_version", "gang_version", "verdict")


class StoredJudgementDetailSerializer(StoredJudgementSerializer):
    """A stored judgement with its inputs and its words as looked up today."""

    sheet = serializers.DictField(child=serializers.JSONField(allow_null=True))
    judgement = JudgementSerializer()

    class Meta(StoredJudgementSerializer.Meta):
        fields: tuple[str, ...] = (  # type: ignore[assignment]  # longer than the row's
            *StoredJudgementSerializer.Meta.fields,
            "sheet",
            "judgement",
        )


class WordSerializer(serializers.Serializer):
    """A word that a figure can be."""

    word = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name


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
    words = WordSerializer(many=True)
    default = _optional()


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


class RangeSerializer(serializers.Serializer):
    """5th, 50th and 95th percentile; null is beyond every number."""

    p05 = _optional()
    p50 = _optional()
    p95 = _optional()


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

    largest_dark_step_ratio = _optional()
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
    watts = _optional()
    text = serializers.CharField()
    is_enough = serializers.BooleanField()


MEASUREMENT_KINDS = _choices(Kind)


class MeasurementSerializer(serializers.Serializer):
    """One reading off the loop."""

    kind = serializers.ChoiceField(choices=MEASUREMENT_KINDS)
    value = serializers.FloatField(min_value=0.0, default=1.0)
    seen = serializers.CharField(max_length=20, allow_blank=True, default="")
    replacement = serializers.DictField(child=serializers.JSONField(allow_null=True), required=False, allow_null=True)
    meter_r_ohm = serializers.FloatField(min_value=1e3, max_value=1e9, required=False, allow_null=True)
    group = serializers.IntegerField(min_value=0, max_value=11, default=0)


class BypassZoneSerializer(serializers.Serializer):
    """A stretch of values that fails, and why."""

    low = serializers.FloatField()
    high = serializers.FloatField()
    reason = serializers.CharField()
    group = serializers.IntegerField(allow_null=True)


class BypassLimitSerializer(serializers.Serializer):
    """What limits a bypass above; the value is null where it limits nothing or is not known."""

    reason = serializers.CharField()
    value = _optional()
    text = serializers.CharField()


class BypassWindowSerializer(serializers.Serializer):
    """Values between which a bypass of one kind works, in F, Ω or A.

    `wanted`: from where on there is the wanted margin to light; `sure`: from where on 95 of 100 samples work.
    """

    low = _optional()
    high = _optional()
    works = serializers.BooleanField()
    wanted = _optional()
    sure = _optional()
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
SCHOOLS = _choices(School)
SAID = ("serves", "costs", "fails", "unknown")


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
    margin_ratio = _optional()
    heat_w = _optional()
    reactive_a = serializers.FloatField()
    reactive_va = serializers.FloatField()
    surface_k = _optional()
    price = _optional()
    year_j = _optional()
    year_cost = _optional()
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
    works_chance = serializers.FloatField()
    remedies = RemedySerializer(many=True)
    spread = SpreadBaseSerializer()


GOES = _choices(Goes)
EDGES = ("on_off", "leading", "trailing")


class LitMemberSerializer(serializers.Serializer):
    """What the matrix says of one lamp group."""

    group = serializers.IntegerField()
    load = serializers.CharField()
    declared = serializers.CharField()
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    text = serializers.CharField()


class LitPictureSerializer(serializers.Serializer):
    """A cycle while on; of a relay the time after it closed."""

    theta_deg = NumbersField()
    v_source_v = NumbersField()
    v_lamp_v = NumbersField()
    i_line_a = NumbersField()
    i_peak_a = serializers.FloatField()
    i_rms_a = serializers.FloatField()
    lamp_v_rms = serializers.FloatField()
    fired_deg = _optional()
    drop_out_deg = _optional()
    v_at_zero_crossing_v = _optional()
    i2t_a2s = serializers.FloatField()


class LightCurveSerializer(serializers.Serializer):
    """Light over conduction with its band, and the proposed trims."""

    gamma_deg = NumbersField()
    low = NumbersField()
    middle = NumbersField()
    high = NumbersField()
    drop_out_deg = RangeSerializer()
    pop_on_deg = RangeSerializer()
    least_deg = serializers.FloatField()
    start_deg = serializers.FloatField()
    most_deg = serializers.FloatField()
    text = serializers.CharField()


class LitSerializer(serializers.Serializer):
    """A gang while the light is on."""

    mode = serializers.CharField(allow_null=True)
    mode_text = serializers.CharField()
    edge = serializers.ChoiceField(choices=EDGES)
    verdict = serializers.ChoiceField(choices=GOES)
    verdict_text = serializers.CharField()
    members = LitMemberSerializer(many=True)
    mixed = serializers.CharField()
    findings = BypassReasonSerializer(many=True)
    level_deg = serializers.FloatField()
    headroom_ratio = serializers.FloatField()
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
    matrix = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    best = serializers.ListField(child=serializers.IntegerField())


LOAD_STATES = ("met", "not_met", "unknown")


class DeclaredLoadSerializer(serializers.Serializer):
    """A declared limit beside what is there."""

    rule = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()
    state = serializers.ChoiceField(choices=LOAD_STATES)


class DeclaredLoadsSerializer(serializers.Serializer):
    """Declared limits and the caution about amperes."""

    rows = DeclaredLoadSerializer(many=True)
    caution = serializers.CharField()


class CureSerializer(serializers.Serializer):
    """One filament lamp among the others."""

    group = serializers.IntegerField()
    p_w = serializers.FloatField()
    share_ratio = serializers.FloatField()
    text = serializers.CharField()


class ThresholdSerializer(serializers.Serializer):
    """A limit that a word hangs on."""

    name = serializers.CharField()
    value = serializers.CharField()
    title = serializers.CharField()
    reason = serializers.CharField()
