"""The one verdict on a gang, as the API gives it."""

from __future__ import annotations

from rest_framework import serializers

from ember_core.overall import Aspect, NextAction
from judging.verdicts import WorksWord

ASPECTS = [aspect.value for aspect in Aspect]
ACTIONS = [action.value for action in NextAction]


class AspectSerializer(serializers.Serializer):
    """One aspect by itself."""

    aspect = serializers.ChoiceField(choices=ASPECTS)
    name = serializers.CharField()
    works = serializers.ChoiceField(choices=WorksWord.choices)
    word = serializers.CharField()


class OverallSerializer(serializers.Serializer):
    """The one verdict with its cause and what to do next."""

    works = serializers.ChoiceField(choices=WorksWord.choices)
    title = serializers.CharField()
    text = serializers.CharField(allow_blank=True)
    next_action = serializers.ChoiceField(choices=ACTIONS)
    next_text = serializers.CharField()
    aspects = AspectSerializer(many=True)
    well_count = serializers.IntegerField(help_text="drawn loops that stay dark and fed, light off")
    sample_count = serializers.IntegerField()
