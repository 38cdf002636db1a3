"""The way of a packet: note → asset → ruling → questions → exhibits → redaction → checks → seal → lodge → replies."""
