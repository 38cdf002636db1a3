"""Storage: records in PostgreSQL, large content as encrypted blobs."""
