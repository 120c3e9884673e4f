"""Creating and changing simple records: version, audit entry and transaction in one place."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.db.models import Model
from rest_framework import serializers

from accounts.models import User
from audit import trail
from common.problems import Problem, StaleVersion


def _save_new(record: Model) -> None:
    try:
        record.full_clean()
        record.save(force_insert=True)
    except (ValidationError, IntegrityError) as error:
        raise Problem(409, "name_taken") from error


def create(who: User, serializer: serializers.ModelSerializer) -> Model:
    """Make a record from valid input, with its audit entry."""
    with transaction.atomic():
        model: Any = serializer.Meta.model
        record: Model = model(**serializer.validated_data)
        _save_new(record)
        trail.record(who, "made", record, after=serializer.to_representation(record))
    return record


def change(who: User, pk: Any, version: int, serializer: serializers.ModelSerializer) -> Model:
    """Change a record if the caller saw its newest version.

    Raises
    ------
    StaleVersion : someone wrote in the meantime. Problem : a unique name is taken.
    """
    model: Any = serializer.Meta.model
    with transaction.atomic():
        record: Any = model.objects.select_for_update().get(pk=pk)
        before = serializer.to_representation(record)
        if record.version != version:
            raise StaleVersion(yours=version, current_version=record.version, current=before)
        for name, value in serializer.validated_data.items():
            setattr(record, name, value)
        record.version = version + 1
        try:
            record.full_clean()
            record.save()
        except (ValidationError, IntegrityError) as error:
            raise Problem(409, "name_taken") from error
        trail.record(who, "changed", record, before=before, after=serializer.to_representation(record))
    return record
