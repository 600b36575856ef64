"""Drawings, laid out here and written as SVG by templates. One module for each kind of part.

Each kind's module has ``draw(worked, ...) -> Drawing``.
"""
