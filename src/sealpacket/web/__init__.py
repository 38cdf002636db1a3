"""The web service: the API under /api/v1, and the console."""
