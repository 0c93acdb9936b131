"""`python -m canonis.work`: one worker; start more on other machines with the same CANONIS_DATABASE."""

import os
import signal

from canonis.work.pool import cores
from canonis.work.queue import run_worker

signal.signal(signal.SIGTERM, signal.default_int_handler)
# Background work gives way to the people who wait for an answer on the same machine.
os.nice(5)
run_worker(int(os.environ.get("CANONIS_KERNELS", str(cores()))))
