"""The shelf over the API."""

from __future__ import annotations

from rest_framework import generics, serializers

from parts.models import Part


class PartSerializer(serializers.ModelSerializer):
    """A part with its figures."""

    figures = serializers.DictField(child=serializers.JSONField())

    class Meta:
        model = Part
        fields = ("id", "category", "kind", "maker", "name", "note", "v_rms", "figures", "version")


class PartListView(generics.ListAPIView):
    """The shelf; `?category=` and `?v_rms=` narrow it."""

    queryset = Part.objects.all()
    serializer_class = PartSerializer
    filterset_fields = ("category", "v_rms")
    pagination_class = None
