"""Shapes of kept judgements."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from judgements.models import Judgement
from judging.api.shapes import JudgementSerializer
from judging.verdicts import WorksWord


class StoredJudgementSerializer(serializers.ModelSerializer):
    """A row of a gang's judgements."""

    made_by = serializers.CharField(source="made_by.display_name", default="", read_only=True)
    works = serializers.SerializerMethodField()

    class Meta:
        model = Judgement
        fields = ("id", "gang", "made_at", "made_by", "core_version", "gang_version", "verdict", "works")

    @extend_schema_field(serializers.ChoiceField(choices=WorksWord.choices))
    def get_works(self, row: Judgement) -> str:
        """The one verdict of then; not judged where an early version kept none."""
        if hasattr(row, "works"):
            return row.works or WorksWord.UNKNOWN
        return str((row.result.get("overall") or {}).get("works", WorksWord.UNKNOWN))


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
