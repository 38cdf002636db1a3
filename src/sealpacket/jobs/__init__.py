"""What the worker does in the background."""
