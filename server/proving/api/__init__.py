"""The proving API."""
