"""Circuits that share a neutral, split by what changes together: entries, circuit, worksheet."""

from voltaje.core.parts.neutral.work import KIND

__all__ = ["KIND"]
