"""The commands as a user types them, run in this process with one warm kernel child."""

import contextlib

from typer.testing import CliRunner

from canonis.cli import app


def canonis(*arguments, cwd):
    """Exit code, standard output and standard error of a command run in a folder."""
    with contextlib.chdir(cwd):
        done = CliRunner().invoke(app, [str(a) for a in arguments], catch_exceptions=False)
    return done.exit_code, done.stdout, done.stderr
