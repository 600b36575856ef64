"""The volts of a job: its parts as one network (``building``), solved (``solving``), and what that
says at each part, in numbers (``volts``) and on its worksheet (``telling``)."""

from voltaje.core.job.voltages.solving import SolvedItems, put_volts

__all__ = ["SolvedItems", "put_volts"]
