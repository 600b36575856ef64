"""Codes that think as IEC 60364 does: Ib ≤ In ≤ Iz, methods of laying, mV/A/m, the fault loop.

``entries`` is what every family asks of a run; a module of each family's name has its vocabulary.
``laid`` tells how a cable lies, ``opening`` what lets a device open, ``earth`` has the protective
conductors, ``work`` sizes, ``tell`` words it, ``code`` is the face. What tells the families apart
stands in their tables and limits.
"""

METRIC = ("bs7671", "sans10142", "asnzs3000")
