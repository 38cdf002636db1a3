"""Collecting evidence by kits: on this machine, over HTTP, and from devices over SSH and SFTP. It only reads."""
