"""The computation: pure functions over values; no interface, no database, no network."""
