"""The pages' processes. Twice the processors, four threads each: requests take milliseconds, longer
work is the workers'."""

import multiprocessing

bind = "127.0.0.1:8000"
workers = 2 * multiprocessing.cpu_count()
threads = 4
# no request may take long; one that does is ended and seen in the log
timeout = 30
graceful_timeout = 20
keepalive = 20
# what a process has kept of jobs is given back now and then, not by all at once
max_requests = 20_000
max_requests_jitter = 2_000
worker_tmp_dir = "/dev/shm"  # noqa: S108 - heartbeats of its own processes
# nginx puts the visitor's address there
forwarded_allow_ips = "127.0.0.1"
