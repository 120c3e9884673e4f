"""Shapes of jobs."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from jobs.models import Job, Kind, State
from loops.models import Gang
from wording.texts import placed_text


class JobMakeSerializer(serializers.Serializer):
    """What is asked for."""

    id = serializers.UUIDField()
    kind = serializers.ChoiceField(Kind.choices)
    part = serializers.UUIDField(required=False, allow_null=True, default=None, help_text="of `serve`")


class RefusedSerializer(serializers.Serializer):
    """A gang that could not be kept, and why."""

    gang = serializers.UUIDField()
    loop_name = serializers.CharField(help_text="empty where it is gone")
    position = serializers.IntegerField()
    code = serializers.CharField()
    text = serializers.CharField()


class JobSerializer(serializers.Serializer):
    """A job, and how far it is."""

    id = serializers.UUIDField()
    kind = serializers.ChoiceField(Kind.choices)
    part = serializers.UUIDField(allow_null=True)
    part_name = serializers.CharField()
    state = serializers.ChoiceField(State.choices)
    is_stop_asked = serializers.BooleanField()
    done = serializers.IntegerField()
    of = serializers.IntegerField()
    changed = serializers.IntegerField()
    refused = RefusedSerializer(many=True)
    at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)


def job_data(job: Job) -> dict[str, Any]:
    """A job as the API gives it."""
    keys = [entry["gang"] for entry in job.refused]
    gangs = {str(gang.pk): gang for gang in Gang.everything.filter(pk__in=keys).select_related("loop")} if keys else {}
    return {
        "id": job.pk,
        "kind": job.kind,
        "part": job.part_id,
        "part_name": "" if job.part is None else str(job.part),
        "state": job.state,
        "is_stop_asked": job.is_stop_asked,
        "done": job.done,
        "of": job.of,
        "changed": job.changed,
        "refused": [
            {
                "gang": entry["gang"],
                "loop_name": gangs[entry["gang"]].loop.name if entry["gang"] in gangs else "",
                "position": gangs[entry["gang"]].position if entry["gang"] in gangs else 0,
                "code": entry["code"],
                "text": placed_text(entry["path"], entry["code"], entry["params"]),
            }
            for entry in job.refused
        ],
        "at": job.at,
        "ended_at": job.ended_at,
    }
