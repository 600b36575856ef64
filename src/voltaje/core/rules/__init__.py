"""What codes ask for. ``code`` is what a family must answer, ``context`` what a part is worked
under, ``settings`` a job's habits; ``nec`` and ``iec`` are how each family does it.
"""
