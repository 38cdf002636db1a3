"""Background jobs of the worker."""
