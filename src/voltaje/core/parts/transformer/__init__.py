"""A transformer: its entries, and its work on both sides."""

from voltaje.core.parts.transformer.work import KIND

__all__ = ["KIND"]
