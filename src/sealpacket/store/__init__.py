"""What is kept: records in PostgreSQL, large content as encrypted blobs."""
