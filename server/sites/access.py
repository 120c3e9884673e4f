"""What a person sees: the records of the sites where they work, and nothing of any other."""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.db.models import QuerySet
from django.http import Http404
from rest_framework.request import Request

from accounts.models import Role, User
from accounts.policy import Allowed
from common.problems import Problem
from sites.models import Site


def sees_all(user: User) -> bool:
    """An administrator keeps the accounts of every site."""
    return bool(user.role == Role.ADMINISTRATOR)


def sites_of(user: User) -> QuerySet[Site]:
    """The sites that a person sees, archived ones left out."""
    found = Site.objects.all()
    return found if sees_all(user) else found.filter(members=user)


def archived_sites_of(user: User) -> QuerySet[Site]:
    """The archived sites that a person would see."""
    found = Site.everything.exclude(archived_at=None)
    return found if sees_all(user) else found.filter(members=user)


def site_keys(user: User) -> list[Any]:
    """Their keys: a list of them is filtered by faster than a join."""
    return list(sites_of(user).order_by().values_list("pk", flat=True))


def visible(model: Any, user: User) -> QuerySet[Any]:
    """The records of a model that a person sees, archived ones left out."""
    return of_sites(model, site_keys(user))


def of_sites(model: Any, keys: list[Any]) -> QuerySet[Any]:
    """The records of a model at some sites, archived ones left out.

    Parameters
    ----------
    keys : see `site_keys`.
    """
    way = f"{model.way_to_site}__in" if model.way_to_site else "pk__in"
    found = model._default_manager.filter(**{way: keys})
    for prefix in model.hidden_with:
        found = found.filter(**{f"{prefix}archived_at": None})
    return found


def hanging(rows: QuerySet[Any], way: str, model: Any, keys: list[Any]) -> QuerySet[Any]:
    """Those of some rows that hang on a record at some sites.

    By joins: thousands bear them better than a list of keys or a selection within.

    Parameters
    ----------
    way : from a row to its record. model : what that record is. keys : of sites that are present, see `site_keys`.
    """
    found = rows.filter(**{f"{way}__{model.way_to_site}__in": keys})
    # The sites are those that are present already.
    own = [prefix for prefix in model.hidden_with if prefix != f"{model.way_to_site}__"]
    return found.filter(**{f"{way}__{prefix}archived_at": None for prefix in own})


def may_see(user: User, kind: str, pk: Any) -> bool:
    """Whether a person sees a record, by the name of its model; what belongs to no site everybody does."""
    model: Any = next((one for one in apps.get_models() if one._meta.model_name == kind), None)
    if sees_all(user) or not hasattr(model, "way_to_site"):
        return True
    way = f"{model.way_to_site}__members" if model.way_to_site else "members"
    return bool(model._base_manager.filter(pk=pk, **{way: user}).exists())


class Member(Allowed):
    """Allowed, and the record that the address names is of a site where the person works, and not archived.

    A view names its model as `record`; a stranger gets what somebody gets who asks for what never was. Views that bring
    back say `takes_archived`.
    """

    def has_permission(self, request: Request, view: Any) -> bool:
        if not super().has_permission(request, view):
            return False
        model, pk = getattr(view, "record", None), view.kwargs.get("pk")
        if model is None or pk is None or not isinstance(request.user, User):
            return True
        rows = model._base_manager.filter(pk=pk)
        if not sees_all(request.user):
            way = f"{model.way_to_site}__members" if model.way_to_site else "members"
            rows = rows.filter(**{way: request.user})
        hidden = rows.values_list(*(f"{prefix}archived_at" for prefix in model.hidden_with)).first()
        if hidden is None:
            raise Http404
        if any(hidden) and not getattr(view, "takes_archived", False):
            raise Problem(404 if request.method in ("GET", "HEAD", "OPTIONS") else 409, "archived")
        return True
