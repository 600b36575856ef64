"""The volts of a job: its parts as one network (``building``), solved (``solving``), and what that
says on each part (``telling``)."""

from voltaje.core.voltages.solving import put_volts

__all__ = ["put_volts"]
