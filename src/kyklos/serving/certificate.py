"""For https: an authority of the household's own, which a phone may trust once, and the certificate it signs, made anew each year.

The authority may speak for names and addresses of a house only, so that whoever trusts it trusts it with nothing else.
"""

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
AUTHORITY_DAYS = 3650  #: A phone is asked once in ten years. [d]
AUTHORITY, AUTHORITY_KEY = "authority.pem", "authority-key.pem"
#: Addresses that are nobody's beyond a house, and names that nobody beyond it answers to.
OF_A_HOUSE = ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "100.64.0.0/10", "::1/128", "fc00::/7", "fe80::/10")
NAMES_OF_A_HOUSE = ("local", "localhost", "lan", "home.arpa", "internal")


def own_certificate(folder: Path, names: tuple[str, ...], now: datetime | None = None) -> tuple[Path, Path]:
    """Return the household's own certificate and key, readable by its owner only; the certificate's file holds its authority too.

    Args:
        folder: The household's.
        names: Host names and addresses under which it answers; one that the old certificate lacks makes a new one.
        now: UTC; the clock's unless given.

    Raises:
        OSError: If it cannot be written.
    """
    certificate, key = folder / "certificate.pem", folder / "certificate-key.pem"
    moment = now or datetime.now(UTC)
    if not _may_speak(folder, names, moment):
        _make_authority(folder, names, moment)
    if not (key.exists() and _still_good(certificate, folder / AUTHORITY, set(names), moment)):
        _make(folder, certificate, key, names, moment)
    return certificate, key


def _may_speak(folder: Path, names: tuple[str, ...], now: datetime) -> bool:
    """Return whether there is an authority for these names, that lasts for a certificate."""
    from cryptography import x509

    try:
        known = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
        allowed = known.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    except (OSError, ValueError, x509.ExtensionNotFound):
        return False
    lasts = known.not_valid_before_utc <= now <= known.not_valid_after_utc - timedelta(days=LASTS_DAYS)
    return lasts and (folder / AUTHORITY_KEY).exists() and all(any(_covers(one, name) for one in allowed) for name in names)


def _covers(allowed: Any, name: str) -> bool:
    """Return whether what an authority may speak for has a name or address in it."""
    try:
        address = ipaddress.ip_address(name)
    except ValueError:
        return isinstance(allowed.value, str) and (name.lower() == allowed.value or name.lower().endswith(f".{allowed.value}"))
    return not isinstance(allowed.value, str) and address.version == allowed.value.version and address in allowed.value


def _make_authority(folder: Path, names: tuple[str, ...], now: datetime) -> None:
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import NameOID

    secret = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Kyklos, this household alone")])
    allowed: list[Any] = [x509.DNSName(name) for name in NAMES_OF_A_HOUSE]
    allowed += [x509.IPAddress(ipaddress.ip_network(one)) for one in OF_A_HOUSE]
    for name in names:
        if not any(_covers(one, name) for one in allowed):
            allowed.append(_alone(name))
    made = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_signs(), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=allowed, excluded_subtrees=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(secret.public_key()), critical=False)
        .sign(secret, hashes.SHA256())
    )
    _write(folder / AUTHORITY_KEY, secret)
    write_whole(folder / AUTHORITY, _pem(made))


def _signs() -> Any:
    from cryptography import x509

    off = dict.fromkeys(("digital_signature", "content_commitment", "key_encipherment", "data_encipherment", "key_agreement", "encipher_only", "decipher_only"), False)
    return x509.KeyUsage(key_cert_sign=True, crl_sign=True, **off)


def _still_good(certificate: Path, authority: Path, names: set[str], now: datetime) -> bool:
    from cryptography import x509
    from cryptography.exceptions import InvalidSignature
    from cryptography.x509.oid import ExtendedKeyUsageOID

    try:
        known = x509.load_pem_x509_certificates(certificate.read_bytes())[0]
        known.verify_directly_issued_by(x509.load_pem_x509_certificate(authority.read_bytes()))
        alternatives = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        uses = known.extensions.get_extension_for_class(x509.ExtendedKeyUsage).value
    except (OSError, ValueError, TypeError, InvalidSignature, x509.ExtensionNotFound):
        return False
    has = {str(value) for kind in (x509.DNSName, x509.IPAddress) for value in alternatives.get_values_for_type(kind)}
    lasts = known.not_valid_before_utc <= now <= known.not_valid_after_utc - timedelta(days=RENEWED_DAYS)
    return lasts and names <= has and ExtendedKeyUsageOID.SERVER_AUTH in uses


def _make(folder: Path, certificate: Path, key: Path, names: tuple[str, ...], now: datetime) -> None:
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

    authority = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    signing: Any = serialization.load_pem_private_key((folder / AUTHORITY_KEY).read_bytes(), None)
    secret = ec.generate_private_key(ec.SECP256R1())
    made = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Kyklos household")]))
        .issuer_name(authority.subject)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=LASTS_DAYS - 1))
        .add_extension(x509.SubjectAlternativeName([_name(name) for name in dict.fromkeys(names)]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()), critical=False)
        .sign(signing, hashes.SHA256())
    )
    _write(key, secret)
    write_whole(certificate, _pem(made) + (folder / AUTHORITY).read_bytes())


def _write(path: Path, secret: Any) -> None:
    from cryptography.hazmat.primitives import serialization

    write_whole(path, secret.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()))


def _pem(made: Any) -> bytes:
    from cryptography.hazmat.primitives import serialization

    return bytes(made.public_bytes(serialization.Encoding.PEM))


def _name(text: str) -> Any:
    from cryptography import x509

    try:
        return x509.IPAddress(ipaddress.ip_address(text))
    except ValueError:
        return x509.DNSName(text)


def _alone(name: str) -> Any:
    """Return a name or address as one that an authority may speak for."""
    from cryptography import x509

    try:
        return x509.IPAddress(ipaddress.ip_network(name))
    except ValueError:
        return x509.DNSName(name.lower())


def fingerprint(certificate: Path) -> str:
    """Return a certificate's fingerprint, as browsers show it: SHA-256, in pairs. Of a file of several it is the first one's."""
    first = certificate.read_text("ascii").split("-----END CERTIFICATE-----")[0] + "-----END CERTIFICATE-----\n"
    digest = hashlib.sha256(ssl.PEM_cert_to_DER_cert(first)).hexdigest().upper()
    return ":".join(digest[i : i + 2] for i in range(0, len(digest), 2))
