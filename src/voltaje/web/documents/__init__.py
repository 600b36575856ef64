"""The documents of a job as one set on paper: cover, what is incomplete, loads, one-line diagram,
panel schedules, worksheets, drop and fault current, accepted checks, readings.

``blocks`` is what a page consists of, ``sections`` makes blocks of a job, ``sheets`` of one item;
``typesetting`` sets blocks as PDF, the template ``documents/printed.html`` as a page for the
browser: both have the same content. ``presets`` are the choices that a job keeps.
"""
