"""How a vendor is asked for what a ruling lacks."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from sealpacket.core.coverage.model import Need


class Asking(NamedTuple):
    """How a cure is asked for. Numbers are not in the words: the redaction would mask them; questions have them."""

    need: Need
    title: str
    text: str


ASKED: Mapping[str, Asking] = {
    "tie_contract": Asking(
        "tie", "Tie our contract to our login",
        "Please tie this contract to our login, so that we can ask for support with it.",
    ),
    "allow_need": Asking(
        "tie", "Let our login ask for more kinds of support",
        "Please let our login ask for this kind of support as well.",
    ),
    "register_product": Asking(
        "tie", "Register this product for us",
        "Please register this product in our name, and tell us the day of registration.",
    ),
    "list_serial": Asking(
        "tie", "List this serial on our contract",
        "Please list this serial on our contract, and tell us from when it is covered.",
    ),
    "renew": Asking(
        "question", "Renew our contract",
        "Our contract has ended. Please send us a quote for its renewal, without a gap if you can.",
    ),
    "await_start": Asking(
        "question", "Let our contract begin earlier",
        "Please let our contract begin earlier, and tell us from which day.",
    ),
}  # fmt: skip
"""By the code of a cure, how it is asked for; other cures are mended in the register."""
