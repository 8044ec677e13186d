"""A certificate of the household's own, for https: made once, made anew for a new address and before it runs out."""

from __future__ import annotations

import hashlib
import ipaddress
import ssl
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from ..store.file.own import write_whole

LASTS_DAYS = 395  #: Thirteen months: browsers take no longer one. [d]
RENEWED_DAYS = 30  #: So long before it runs out it is made anew. [d]


def own_certificate(folder: Path, names: tuple[str, ...], now: datetime | None = None) -> tuple[Path, Path]:
    """Return the household's own certificate and key, readable by its owner only.

    Args:
        folder: The household's.
        names: Host names and addresses under which it answers; one that the old certificate lacks makes a new one.
        now: UTC; the clock's unless given.

    Raises:
        OSError: If it cannot be written.
    """
    certificate, key = folder / "certificate.pem", folder / "certificate-key.pem"
    moment = now or datetime.now(UTC)
    if not (key.exists() and _still_good(certificate, set(names), moment)):
        _make(certificate, key, names, moment)
    return certificate, key


def _still_good(certificate: Path, names: set[str], now: datetime) -> bool:
    from cryptography import x509
    from cryptography.x509.oid import ExtendedKeyUsageOID

    try:
        known = x509.load_pem_x509_certificate(certificate.read_bytes())
        alternatives = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        uses = known.extensions.get_extension_for_class(x509.ExtendedKeyUsage).value
    except (OSError, ValueError, x509.ExtensionNotFound):
        return False
    has = {str(value) for kind in (x509.DNSName, x509.IPAddress) for value in alternatives.get_values_for_type(kind)}
    lasts = known.not_valid_before_utc <= now <= known.not_valid_after_utc - timedelta(days=RENEWED_DAYS)
    return lasts and names <= has and ExtendedKeyUsageOID.SERVER_AUTH in uses


def _make(certificate: Path, key: Path, names: tuple[str, ...], now: datetime) -> None:
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

    secret = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Kyklos household")])
    made = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=LASTS_DAYS - 1))
        .add_extension(x509.SubjectAlternativeName([_name(name) for name in dict.fromkeys(names)]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(secret, hashes.SHA256())
    )
    write_whole(
        key, secret.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    )
    write_whole(certificate, made.public_bytes(serialization.Encoding.PEM))


def _name(text: str) -> Any:
    from cryptography import x509

    try:
        return x509.IPAddress(ipaddress.ip_address(text))
    except ValueError:
        return x509.DNSName(text)


def fingerprint(certificate: Path) -> str:
    """Return a certificate's fingerprint, as browsers show it: SHA-256, in pairs."""
    body = ssl.PEM_cert_to_DER_cert(certificate.read_text("ascii"))
    digest = hashlib.sha256(body).hexdigest().upper()
    return ":".join(digest[i : i + 2] for i in range(0, len(digest), 2))
