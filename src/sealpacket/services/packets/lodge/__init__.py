"""Delivering a packet to its desk."""
