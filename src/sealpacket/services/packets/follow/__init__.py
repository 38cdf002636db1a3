"""What the desk does with a packet: its cases, messages, mails and calls."""
