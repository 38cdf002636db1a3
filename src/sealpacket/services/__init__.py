"""Services: one function for each act of a user, each with its own transaction."""
