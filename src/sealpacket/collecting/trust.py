"""How a device is authenticated: its host key, and the authority of its certificate."""

from __future__ import annotations

from sealpacket.core.errors import Invalid


def host_key_print(text: str) -> str:
    """The fingerprint (SHA-256) of a public host key as OpenSSH writes it. Raises Invalid."""
    import asyncssh

    try:
        return asyncssh.import_public_key(text.strip()).get_fingerprint()
    except (asyncssh.KeyImportError, ValueError):
        raise Invalid(
            "The host key cannot be read.",
            "Give it as in a .pub file: ssh-ed25519 AAAA…",
            code="host-key",
            field="host_key",
        ) from None


def read_authority(text: str) -> None:
    """Make sure that a certificate authority is a certificate in PEM. Raises Invalid."""
    from cryptography import x509

    try:
        x509.load_pem_x509_certificates(text.encode())
    except ValueError:
        raise Invalid(
            "The authority is no certificate.",
            "Give it as PEM, from BEGIN CERTIFICATE on.",
            code="authority",
            field="authority",
        ) from None
