"""Edits of a sheet carried out, one module each. Adding one is a class of `Edit` in `commands.py` or `view_commands.py`, and a module here."""

from canonis.core.folder import modules_of

modules_of(__name__)
