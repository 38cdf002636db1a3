"""Evidence: times in files, so that the hours that matter can be found in them."""
