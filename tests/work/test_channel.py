"""Messages over a socket, in whatever pieces they come."""

import socket
import threading

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.work.channel import Channel, ChannelClosed, ChannelStuck

messages = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=20) | st.binary(max_size=200),
    lambda inner: (
        st.lists(inner, max_size=3) | st.tuples(inner, inner) | st.dictionaries(st.text(max_size=4), inner, max_size=3)
    ),
    max_leaves=6,
)


@settings(deadline=None)
@given(st.lists(messages, min_size=1, max_size=6))
def test_messages_arrive_whole_and_in_order(sent):
    a, b = (Channel(s) for s in socket.socketpair())
    writer = threading.Thread(target=lambda: [a.send(m, 10) for m in sent])
    writer.start()
    got = [b.receive(10) for _ in sent]
    writer.join()
    a.close()
    with pytest.raises(ChannelClosed):
        b.receive(1)
    b.close()
    assert got == sent


@settings(deadline=None, max_examples=20)
@given(st.binary(min_size=1, max_size=5000), st.integers(1, 700))
def test_a_message_in_pieces_is_kept_until_it_is_whole(data, size):
    import pickle

    here, there = socket.socketpair()
    b = Channel(there)
    packed = pickle.dumps(data)
    stream = len(packed).to_bytes(8, "big") + packed
    for k in range(0, len(stream), size):
        here.sendall(stream[k : k + size])
        if k + size < len(stream):
            with pytest.raises(ChannelStuck):
                b.receive(0.0)
    assert b.receive(5) == data
    here.close()
    b.close()


@pytest.mark.parametrize("garbage", [b"\xff" * 64, (16).to_bytes(8, "big") + b"this is no pickle"])
def test_what_is_no_message_closes_the_line(garbage):
    here, there = socket.socketpair()
    b = Channel(there)
    here.sendall(garbage)
    with pytest.raises(ChannelClosed):
        b.receive(5)
    here.close()
    b.close()


def test_a_reader_that_went_away_is_noticed():
    a, b = (Channel(s) for s in socket.socketpair())
    b.close()
    with pytest.raises(ChannelClosed):
        for _ in range(100):
            a.send(b"x" * 100_000, 1)
    a.close()
