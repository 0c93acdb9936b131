"""`python -m canonis.work`: one worker; start more on other machines with the same CANONIS_DATABASE."""

import os
import signal

from canonis.logs import write_logs
from canonis.settings import settings
from canonis.work.pool import cores
from canonis.work.queue import run_worker

write_logs("worker")
signal.signal(signal.SIGTERM, signal.default_int_handler)
# Background work gives way to the people who wait for an answer on the same machine.
os.nice(5)
run_worker(settings().kernels or cores())
