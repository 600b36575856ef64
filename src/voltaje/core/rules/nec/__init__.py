"""The National Electrical Code: ampacity step by step (``wiring``), one pair judged (``choose``),
all pairs (``ladder``), demand, motors, transformers, grounding, and ``wired``, which sizes
whatever has conductors and a device. ``code`` is its face.
"""
