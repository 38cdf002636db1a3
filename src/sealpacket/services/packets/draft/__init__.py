"""Drafts: noting, answering, and keeping up with the desk sheet."""
