"""What a person can do: one function for each act, each with its own transaction."""
