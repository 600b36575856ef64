"""A run of several segments, split by what changes together: entries, the run itself, worksheet."""

from voltaje.core.parts.run.work import KIND

__all__ = ["KIND"]
