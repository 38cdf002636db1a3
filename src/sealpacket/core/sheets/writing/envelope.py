"""Envelopes: a file encrypted to the desk's certificate as CMS (RFC 5652), which the desk alone can open."""

from __future__ import annotations

from datetime import UTC, datetime

from cryptography import x509
from cryptography.hazmat.primitives.asymmetric import rsa
from cryptography.hazmat.primitives.ciphers import algorithms
from cryptography.hazmat.primitives.serialization import Encoding
from cryptography.hazmat.primitives.serialization.pkcs7 import PKCS7EnvelopeBuilder, PKCS7Options

from sealpacket.core.errors import Invalid


def read_certificate(pem: str, today: datetime | None = None) -> x509.Certificate:
    """Read a certificate. Raises Invalid if it is not one, has expired, or has no RSA key of at least 2048 bits."""
    now = today or datetime.now(UTC)
    try:
        certificate = x509.load_pem_x509_certificate(pem.encode())
    except ValueError as error:
        raise Invalid(
            "This is not a PEM certificate.",
            "Put the desk's certificate there.",
            code="certificate",
        ) from error
    key = certificate.public_key()
    if not isinstance(key, rsa.RSAPublicKey) or key.key_size < 2048:
        raise Invalid(
            "The certificate has no RSA key of 2048 bits or more.",
            "Ask the desk for another.",
            code="certificate",
        )
    if not certificate.not_valid_before_utc <= now <= certificate.not_valid_after_utc:
        raise Invalid(
            f"The desk's certificate is valid until {certificate.not_valid_after_utc:%Y-%m-%d}.",
            "Get its new one from the desk, and put it into the sheet.",
            code="certificate-ended",
        )
    return certificate


def seal_to(pem: str, data: bytes) -> bytes:
    """The data as CMS EnvelopedData in DER, AES-256, for the owner of the certificate alone."""
    builder = (
        PKCS7EnvelopeBuilder().set_data(data).set_content_encryption_algorithm(algorithms.AES256)
    )
    return builder.add_recipient(read_certificate(pem)).encrypt(Encoding.DER, [PKCS7Options.Binary])
