"""Redaction of a packet: exhibits, typed text, decisions, review and legend."""
