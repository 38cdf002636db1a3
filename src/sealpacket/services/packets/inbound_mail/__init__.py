"""Mail that comes in: polled from a mailbox or taken at the gate, routed to its packet, and taken in."""
