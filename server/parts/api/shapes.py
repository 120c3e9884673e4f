"""How parts look over the API."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from common.shapes import WordSerializer
from ember_core.catalogue.entry import Category as CoreCategory
from ember_core.catalogue.entry import Claim, Entry, fields_of, hardware
from ember_core.quantities import Figure, Source
from ember_core.routes.as_wired import Wired, wirings_of
from parts.models import Category, Part, PartClaim
from parts.services.entries import entry_of
from parts.services.importing import Format
from wording.texts import meaning_of, reference_words, word_labels

WIRINGS = [word.value for word in Wired]
FORMATS = [form.value for form in Format]
SOURCES = [source.value for source in Source]


class PartSerializer(serializers.ModelSerializer):
    """A part with its figures in use."""

    figures = serializers.DictField(child=serializers.JSONField())
    wirings = serializers.SerializerMethodField(help_text="of a control: how it may hang, the usual way first")

    class Meta:
        model = Part
        fields = ("id", "category", "kind", "maker", "name", "note", "v_rms", "figures", "wirings", "version")

    @extend_schema_field(serializers.ListField(child=serializers.ChoiceField(choices=WIRINGS)))
    def get_wirings(self, part: Part) -> list[str]:
        """By its leaflet."""
        is_control = part.category == CoreCategory.CONTROL
        return [word.value for word in wirings_of(hardware(entry_of(part)))] if is_control else []


class PartFieldSerializer(serializers.Serializer):
    """A figure that a kind of part has."""

    name = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    unit = serializers.CharField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    needed = serializers.BooleanField()
    rating = serializers.BooleanField()
    words = WordSerializer(many=True)


class PartKindSerializer(serializers.Serializer):
    """A kind of part with its figures."""

    category = serializers.ChoiceField(choices=Category.choices)
    kind = serializers.CharField()
    figures = PartFieldSerializer(many=True)


class ClaimSerializer(serializers.ModelSerializer):
    """What a source says of a figure."""

    by = serializers.CharField(source="by.display_name", default="", read_only=True)
    source = serializers.ChoiceField(choices=SOURCES)  # type: ignore[assignment]  # the framework has an attribute of that name

    class Meta:
        model = PartClaim
        fields = ("id", "field", "low", "typical", "high", "source", "where", "in_use", "at", "by")

    def to_representation(self, claim: PartClaim) -> dict[str, Any]:
        """What the classes say of themselves in the language of whoever reads."""
        told = super().to_representation(claim)
        return {**told, "where": reference_words(told["where"])}


class UseSerializer(serializers.Serializer):
    """A gang that holds the part."""

    gang = serializers.UUIDField(source="gang.pk")
    loop = serializers.UUIDField(source="gang.loop_id")
    site_name = serializers.CharField(source="gang.loop.site.name")
    loop_name = serializers.CharField(source="gang.loop.name")
    position = serializers.IntegerField(source="gang.position")
    works = serializers.CharField(source="gang.works")
    differs = serializers.BooleanField()


class PartDetailSerializer(PartSerializer):
    """A part with every source, the figures of its kind (`known`), and where it is used."""

    claims = ClaimSerializer(many=True, read_only=True)
    known = PartFieldSerializer(many=True, read_only=True)
    uses = UseSerializer(many=True, read_only=True, source="used.first")
    use_count = serializers.IntegerField(read_only=True, source="used.count")
    older_count = serializers.IntegerField(read_only=True, source="used.older_count")

    class Meta(PartSerializer.Meta):
        fields: tuple[str, ...] = (*PartSerializer.Meta.fields, "claims", "known", "uses", "use_count", "older_count")  # type: ignore[assignment]  # longer than the row's


class ClaimMakeSerializer(serializers.Serializer):
    """One more source for a figure."""

    version = serializers.IntegerField(min_value=1)
    field = serializers.CharField(max_length=60)
    low = serializers.FloatField()
    typical = serializers.FloatField()
    high = serializers.FloatField()
    source = serializers.ChoiceField(choices=SOURCES)  # type: ignore[assignment]  # the framework has an attribute of that name
    where = serializers.CharField(max_length=300, allow_blank=True, default="")
    in_use = serializers.BooleanField(default=True)


class ClaimUseSerializer(serializers.Serializer):
    """Which source to calculate with."""

    version = serializers.IntegerField(min_value=1)
    claim = serializers.UUIDField()


class NewClaimSerializer(serializers.Serializer):
    """A figure of a new part."""

    field = serializers.CharField(max_length=60)
    low = serializers.FloatField()
    typical = serializers.FloatField()
    high = serializers.FloatField()
    source = serializers.ChoiceField(choices=SOURCES)  # type: ignore[assignment]  # the framework has an attribute of that name
    where = serializers.CharField(max_length=300, allow_blank=True, default="")
    in_use = serializers.BooleanField(default=True)


class PartMakeSerializer(serializers.Serializer):
    """A new part."""

    maker = serializers.CharField(max_length=120)
    name = serializers.CharField(max_length=120)
    category = serializers.ChoiceField(choices=Category.choices)
    kind = serializers.CharField(max_length=30)
    v_rms = serializers.FloatField(allow_null=True, default=None)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    claims = NewClaimSerializer(many=True)
    from_class = serializers.BooleanField(
        default=False, help_text="of a lamp, take what is not said from the range of its class, assumed"
    )


class ImportSerializer(serializers.Serializer):
    """A file for the shelf."""

    text = serializers.CharField(max_length=5_000_000, trim_whitespace=False, allow_blank=True)
    format = serializers.ChoiceField(choices=FORMATS)
    apply = serializers.BooleanField(default=False)


class BadRowSerializer(serializers.Serializer):
    """What is wrong at one place of a file."""

    line = serializers.IntegerField()
    column = serializers.CharField()
    code = serializers.CharField()
    text = serializers.CharField()


class ImportResultSerializer(serializers.Serializer):
    """What a file does, or did, to the shelf."""

    new = serializers.ListField(child=serializers.CharField())
    changed = serializers.ListField(child=serializers.CharField())
    unchanged = serializers.IntegerField()
    bad = BadRowSerializer(many=True)
    is_applied = serializers.BooleanField()


class CableRunSerializer(serializers.Serializer):
    """Lengths of a cable in a loop."""

    drop_m = serializers.FloatField(min_value=0.0, max_value=500.0)
    run_m = serializers.FloatField(min_value=0.0, max_value=500.0)


class TypicalLampRequestSerializer(serializers.Serializer):
    """What is known of a lamp: its input stage, the mains, and perhaps its watts."""

    stage = serializers.CharField(max_length=40)
    v_rms = serializers.FloatField(min_value=80.0, max_value=280.0)
    f_hz = serializers.FloatField(min_value=40.0, max_value=70.0)
    p_w = serializers.FloatField(allow_null=True, default=None)


class TypicalLampSerializer(serializers.Serializer):
    """Figures of a part of that class."""

    figures = serializers.DictField(child=serializers.JSONField())


class ControlClassSerializer(serializers.Serializer):
    """A class of controls for which typical figures are kept."""

    name = serializers.CharField()
    text = serializers.CharField()


class TypicalControlRequestSerializer(serializers.Serializer):
    """Class and mains."""

    name = serializers.CharField(max_length=40)
    v_rms = serializers.FloatField(min_value=80.0, max_value=280.0)


class StageSerializer(serializers.Serializer):
    """An input stage for which typical figures are kept."""

    stage = serializers.CharField()
    kind = serializers.CharField()
    text = serializers.CharField()
    p_low_w = serializers.FloatField()
    p_high_w = serializers.FloatField()
    typical_p_w = serializers.FloatField()


def claim_from(values: dict[str, Any]) -> Claim:
    """The core's claim of what was sent."""
    figure = Figure(
        low=values["low"],
        typical=values["typical"],
        high=values["high"],
        source=Source(values["source"]),
        note=values["where"],
    )
    return Claim(field=values["field"], figure=figure, in_use=values["in_use"])


def entry_from(values: dict[str, Any]) -> Entry:
    """The core's entry of what was sent."""
    return Entry(
        maker=values["maker"],
        name=values["name"],
        category=CoreCategory(values["category"]),
        kind=values["kind"],
        v_rms=values["v_rms"],
        note=values["note"],
        claims=tuple(claim_from(claim) for claim in values["claims"]),
    )


def fields_data(category: str, kind: str) -> list[dict[str, Any]]:
    """The figures that a kind has, what must be given first."""
    rows = [
        {
            "name": name,
            "label": meaning_of(quantity),
            "unit": quantity.unit,
            "low": quantity.low,
            "high": quantity.high,
            "needed": needed,
            "rating": quantity.is_rating,
            "words": word_labels(quantity),
        }
        for name, (quantity, needed) in fields_of(CoreCategory(category), kind).items()
    ]
    return sorted(rows, key=lambda row: (not row["needed"], bool(row["rating"])))
