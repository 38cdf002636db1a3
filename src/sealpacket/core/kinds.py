"""All kinds of sensitive value, in the order of their numbers in records of findings; only ever added to."""

KINDS = (
    "mail", "phone", "ip", "mac", "host", "person", "card", "secret", "token", "key", "asset", "contract",
    "user", "hash", "licence", "iban", "national", "birth", "address", "place", "reader", "subject", "custom",
)  # fmt: skip

FLOOR = frozenset({"secret", "token", "key", "hash", "card", "iban", "national", "birth"})
"""The least that is masked, unless an organisation says more."""

NAMES = frozenset({"user", "person", "host"})
"""Kinds of what people and things are called: a word of one, letters alone, tells nothing within another word."""
