"""The command line: it talks to the service through the client library, and to the core for what works offline."""
