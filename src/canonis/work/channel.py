"""Messages between a process and its kernel child, over a socket, with a limit on every wait."""

import pickle
import select
import socket
import time
from typing import Any

__all__ = ["Channel", "ChannelClosed", "ChannelStuck"]

#: Largest message taken, bytes: a model of the largest file size with its answer.
_LARGEST = 4 * 1024**3
_HEAD = 8


class ChannelClosed(Exception):
    """The other side is gone."""


class ChannelStuck(Exception):
    """The other side did not take, or not finish, a message in time."""


class Channel:
    """One side of a pair. Both sides are this program; messages are pickled."""

    def __init__(self, end: socket.socket) -> None:
        self._socket = end
        self._got = bytearray()

    def fileno(self) -> int:
        """The descriptor, to hand down to a child."""
        return self._socket.fileno()

    def close(self) -> None:
        """Close this side; the other reads the end of the stream."""
        self._socket.close()

    def send(self, message: Any, limit: float | None = None) -> None:
        """Send a message whole within `limit` seconds (None: for ever).

        Raises ChannelStuck when the other side does not read it in time, ChannelClosed when it is gone.
        """
        data = pickle.dumps(message, protocol=pickle.HIGHEST_PROTOCOL)
        self._socket.settimeout(limit)
        try:
            self._socket.sendall(len(data).to_bytes(_HEAD, "big") + data)
        except TimeoutError:
            raise ChannelStuck from None
        except OSError:
            raise ChannelClosed from None

    def receive(self, limit: float | None = None) -> Any:
        """The next message; what has come of one that is not complete in time is kept for the next call.

        Raises ChannelStuck after `limit` seconds without a whole message, ChannelClosed at the end of the stream.
        """
        end = None if limit is None else time.monotonic() + limit
        while True:
            if len(self._got) >= _HEAD:
                size = int.from_bytes(self._got[:_HEAD], "big")
                if size > _LARGEST:
                    raise ChannelClosed
                if len(self._got) >= _HEAD + size:
                    data = bytes(self._got[_HEAD : _HEAD + size])
                    del self._got[: _HEAD + size]
                    try:
                        return pickle.loads(data)
                    except Exception:  # a message that was broken off, and another one in its place
                        raise ChannelClosed from None
            left = None if end is None else end - time.monotonic()
            try:
                # Not `select`, which knows only the first thousand descriptors.
                look = select.poll()
                look.register(self._socket, select.POLLIN)
                if not look.poll(None if left is None else max(0.0, left) * 1000):
                    raise ChannelStuck
                piece = self._socket.recv(1 << 20)
            except (OSError, ValueError):
                raise ChannelClosed from None
            if not piece:
                raise ChannelClosed
            self._got += piece
