"""Judgements: computed for the bench, stored with their inputs."""
