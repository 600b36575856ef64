"""Codes that think as IEC 60364 does: Ib ≤ In ≤ Iz, reference methods, mV/A/m, the earth-fault
loop. ``entries`` is how their cables are run, ``work`` sizes, ``tell`` words it, ``code`` is the
face; what tells the families apart stands in their tables.
"""
