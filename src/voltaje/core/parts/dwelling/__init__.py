"""A dwelling: its calculated load by the standard and the optional method, or as it stands
with load added, and the service that follows from it.

``entries`` what is read off on site; ``loads`` turns rows into loads; ``standard``, ``optional``
and ``existing`` are the ways to calculate; ``service`` sizes; ``work`` puts them together.
"""

from voltaje.core.parts.dwelling.work import KIND

__all__ = ["KIND"]
