"""What is agreed with vendors besides cover, and what requests do to it."""
