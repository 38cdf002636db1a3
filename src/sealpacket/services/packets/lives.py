"""How packets may stand, grouped."""

DRAFT = ("drafting",)
OPEN = ("lodged", "answered")
"""With the desk, and not over."""
LIVES = (*OPEN, "settled")
"""How a packet may stand that its desk has, in their order."""
OVER = ("settled", "withdrawn")
"""Nobody's turn any more, unless something of ours could not be sent."""
