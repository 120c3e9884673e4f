"""Judgements over the API."""
