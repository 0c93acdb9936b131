"""The kernel child: a process of its own that keeps the kernel warm and works one job at a time."""

import resource
import sys
from multiprocessing.connection import Connection

from canonis.core.faults import BadInput


def main() -> None:
    """Serve jobs that arrive on the inherited descriptor until it closes."""
    pipe = Connection(int(sys.argv[1]))
    limit = int(sys.argv[2])
    if limit:
        resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
    from canonis.work.desk import DESK
    from canonis.work.jobs import JOBS
    from canonis.work.study import STUDY

    jobs = JOBS | DESK | STUDY
    pipe.send(("ready", None))
    while True:
        try:
            name, arguments = pipe.recv()
        except (EOFError, OSError):
            return
        try:
            result = jobs[name](lambda text: pipe.send(("progress", text)), **arguments)
            pipe.send(("done", result))
        except BadInput as fault:
            pipe.send(("bad", str(fault)))
        except MemoryError:
            pipe.send(("bad", "The model needs more memory than the limit allows; simplify it or raise the limit."))
        except (BrokenPipeError, KeyboardInterrupt):
            return
        except BaseException as fault:
            import traceback

            pipe.send(("fault", f"{type(fault).__name__}: {fault}\n{traceback.format_exc()}"))


if __name__ == "__main__":
    main()
