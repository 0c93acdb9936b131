"""`python -m canonis.work`: one worker; start more on other machines with the same CANONIS_DATABASE."""

import os
import signal

from canonis.work.queue import run_worker

signal.signal(signal.SIGTERM, signal.default_int_handler)
run_worker(int(os.environ.get("CANONIS_KERNELS", "1")))
