"""What is masked in a packet: exhibits, typed text, decisions, review and legend."""
