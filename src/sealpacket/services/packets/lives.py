"""How packets may stand, grouped; and what of ours waits for a person."""

from sealpacket.store.models import Message

DRAFT = ("drafting",)
OPEN = ("lodged", "answered")
"""With the desk, and not over."""
LIVES = (*OPEN, "settled")
"""How a packet may stand that its desk has, in their order."""
OVER = ("settled", "withdrawn")
"""Nobody's turn any more, unless something of ours could not be sent."""


def waits_for_a_person(message: Message) -> bool:
    """Whether one of ours could not be sent, or has to be passed on by hand."""
    if message.direction != "out" or message.sent_at is not None or message.taken_back_at:
        return False
    return bool(message.failure) or message.how == "hand"
