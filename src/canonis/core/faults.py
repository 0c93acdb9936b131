"""What can be wrong with what people hand in; each message is one plain sentence for the user."""


class BadInput(Exception):
    """The input cannot be used. The message says what is wrong and what to do."""
