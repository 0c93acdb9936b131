"""What is known of each kind on the second route: one module a kind, or a few alike, which enters how statements of it are
measured and what lines of a source may mean by it. Adding a kind is writing such a module here."""

from canonis.core.folder import modules_of

modules_of(__name__)
