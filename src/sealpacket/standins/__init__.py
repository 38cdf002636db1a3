"""Simulated desks: separate processes, reached over real sockets only, that import nothing of ours."""
