"""The application context: database, blobs, keys, queue and idempotency of one running copy."""
