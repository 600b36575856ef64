"""A whole job: its parts calculated, its voltages, readings beside them, two codes, plans.

``calculate`` runs the passes over the tree and keeps what can be kept; ``voltages`` solves the job
as one network; ``readings`` lays what was measured beside it; ``code_comparison`` works one part
under two codes; ``spread`` and ``conductor_plan`` are what the plans of balance and of conductors
need of a job.
"""
