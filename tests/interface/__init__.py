"""Tests in a real browser."""
