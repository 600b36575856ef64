"""Codes with AWG sizes, the National Electrical Code and the Canadian one: ampacity step by step
(``wiring``), one pair judged rule by rule (``checks``), all pairs (``alternatives``), demand,
motors, transformers, grounding, and ``wired``, which sizes whatever has conductors and a device.
``cec`` is the Canadian vocabulary, ``code`` their face. What tells them apart stands in their
tables and limits.
"""

AWG = ("nec", "cec")
