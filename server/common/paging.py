"""Pages of a list."""

from __future__ import annotations

from rest_framework.pagination import PageNumberPagination


class Page(PageNumberPagination):
    """50 rows a page, at most 200; lists have a total order, so pages do not overlap."""

    page_size = 50
    page_size_query_param = "page_size"
    max_page_size = 200
