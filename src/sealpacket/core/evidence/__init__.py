"""Evidence: what files tell of times, so that the hours that matter can be found in them."""
