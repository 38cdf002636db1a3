"""Notices: who is notified of what, and how it reaches them."""
