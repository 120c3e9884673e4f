"""Pages of a list."""

from __future__ import annotations

from typing import Any

from django.core.paginator import Page as Cut
from django.core.paginator import Paginator
from rest_framework.pagination import PageNumberPagination

# Where no more than this are found, all are read.
FEW = 500


class Page(PageNumberPagination):
    """50 rows a page, at most 200; lists have a total order, so pages do not overlap."""

    page_size = 50
    page_size_query_param = "page_size"
    max_page_size = 200


class _Few(Paginator[Any]):
    """Reads few rows whole and cuts the page from them.

    Asked for a page in its order, the database goes through an index and looks each row up for the words that are
    sought: quick where many have them, three times as long as reading all rows as they lie where few have.
    """

    def page(self, number: int | str) -> Cut[Any]:
        """One page of it."""
        if self.count <= FEW:
            self.object_list = list(self.object_list)
        return super().page(number)


class PageOfFew(Page):
    """Of keys that a search may find few of among thousands."""

    django_paginator_class = _Few
