"""Codes that think as IEC 60364 does: Ib ≤ In ≤ Iz, methods of laying, mV/A/m, the fault loop.

``entries`` is what every family asks of a run; a module of each family's name has its vocabulary.
``rating_factors`` rate a cable as it is installed, ``disconnection`` says what lets a device open,
``protective_conductors`` and ``short_circuit`` judge faults, ``checks`` are the rules of one pair,
``sizing`` brings the candidates, ``report`` words it, ``code`` is the face. What tells the families
apart stands in their tables and limits.
"""

METRIC = ("bs7671", "sans10142", "asnzs3000")
