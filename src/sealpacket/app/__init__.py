"""What every use case needs at hand: the context of one running copy, its queue, and acts that are done once."""
