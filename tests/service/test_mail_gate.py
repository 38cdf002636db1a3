"""What the mail gate answers, as another mail server hears it: nothing is refused for good that could be taken later."""

from __future__ import annotations

import smtplib
import time
from collections.abc import Iterator
from contextlib import ExitStack, suppress

import pytest
from aiosmtpd.controller import Controller

from sealpacket.channels.gate import MOST_SESSIONS, Gate, Gatekeeper
from sealpacket.core.errors import Invalid, Unavailable
from sealpacket.demo.cluster import free_port
from sealpacket.demo.house import RunningHouse

MAIL = b"From: care@lumenlathe.example\r\nSubject: LL-55012\r\n\r\nStatus: OPEN\r\n"
OURS = "cases+p-0001.aaaaaaaaaaaaaaaa@quillmere.example"


class Receiver:
    """Wants every mail, and takes it; or raises what it is told to."""

    def __init__(self) -> None:
        self.at_wants: Exception | None = None
        self.at_take: Exception | None = None
        self.wanted = True
        self.taken: list[tuple[str, bytes]] = []

    def wants(self, _address: str) -> bool:
        if self.at_wants:
            raise self.at_wants
        return self.wanted

    def take(self, address: str, data: bytes) -> None:
        if self.at_take:
            raise self.at_take
        self.taken.append((address, data))


@pytest.fixture
def receiver() -> Receiver:
    return Receiver()


@pytest.fixture
def server(receiver: Receiver) -> Iterator[smtplib.SMTP]:
    """A mail server of somebody else's, speaking to our gate."""
    controller = Controller(Gate(receiver), hostname="127.0.0.1", port=free_port())
    controller.start()
    with smtplib.SMTP("127.0.0.1", controller.port, timeout=60) as connection:
        connection.ehlo()
        yield connection
    controller.stop()


def test_more_connections_than_there_is_room_for_come_again(receiver: Receiver) -> None:
    controller = Gatekeeper(Gate(receiver), hostname="127.0.0.1", port=free_port())
    controller.start()
    with ExitStack() as stack:
        for _ in range(MOST_SESSIONS):
            stack.enter_context(smtplib.SMTP("127.0.0.1", controller.port, timeout=60)).ehlo()
        with pytest.raises(smtplib.SMTPConnectError) as caught:
            smtplib.SMTP("127.0.0.1", controller.port, timeout=60)
        assert caught.value.smtp_code == 421
    deadline = time.monotonic() + 60
    while True:  # an ended connection makes room for another
        with suppress(smtplib.SMTPConnectError), smtplib.SMTP("127.0.0.1", controller.port) as one:
            one.ehlo()
            assert sent(one) == [250, 250, 250]
            break
        assert time.monotonic() < deadline
    controller.stop()


def sent(server: smtplib.SMTP, *, to: str = OURS) -> list[int]:
    """The codes that the gate answers to one mail, until it says no."""
    codes = [server.mail("care@lumenlathe.example")[0], server.rcpt(to)[0]]
    if codes[-1] == 250:
        codes.append(server.data(MAIL)[0])
    server.rset()
    return codes


def test_a_mail_is_taken_whole(server: smtplib.SMTP, receiver: Receiver) -> None:
    assert sent(server) == [250, 250, 250]
    assert receiver.taken == [(OURS, MAIL)]


@pytest.mark.parametrize("why", [Unavailable("Away.", "Later."), ValueError("nobody foresaw this")])
@pytest.mark.parametrize("when", ["at_wants", "at_take"])
def test_what_goes_wrong_with_us_is_tried_again(
    server: smtplib.SMTP, receiver: Receiver, when: str, why: Exception
) -> None:
    setattr(receiver, when, why)
    assert sent(server)[-1] == 451
    setattr(receiver, when, None)
    assert sent(server) == [250, 250, 250]


def test_what_can_never_be_taken_is_refused_for_good(
    server: smtplib.SMTP, receiver: Receiver
) -> None:
    receiver.at_take = Invalid("No mail.", "Send one.")
    assert sent(server) == [250, 250, 554]
    receiver.wanted = False
    assert sent(server) == [250, 550]


def test_there_is_one_recipient_at_a_time(server: smtplib.SMTP) -> None:
    server.mail("care@lumenlathe.example")
    assert server.rcpt(OURS)[0] == 250
    assert server.rcpt(OURS)[0] == 452


def test_without_the_database_a_mail_waits_where_it_is(house: RunningHouse) -> None:
    with smtplib.SMTP("127.0.0.1", house.gate_port, timeout=60) as server:
        server.ehlo()
        house.cluster.stop("immediate")
        try:
            assert sent(server)[-1] == 451
        finally:
            house.cluster.serve()
        assert sent(server) == [250, 550], "the tag is none of ours"
