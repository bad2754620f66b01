"""The certificate that Darre shows to other devices: the person's own, or one made on this machine.

A certificate made here is vouched for by nobody, so a phone warns once. What protects then is that the fingerprint on
the phone is the one that Settings shows on this machine.
"""

import ipaddress
import os
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

DAYS, RENEWED_BEFORE = 397, timedelta(days=30)  # browsers take no longer ones
ALWAYS = ("localhost", "127.0.0.1")


@dataclass(frozen=True)
class Certificate:
    """Two files, and whether the person brought them."""

    chain: Path
    key: Path
    own: bool = False

    @property
    def fingerprint(self) -> str:
        """SHA-256 of the certificate, in pairs of hexadecimal digits. Raises OSError and ValueError."""
        digest = x509.load_pem_x509_certificate(self.chain.read_bytes()).fingerprint(hashes.SHA256())
        return ":".join(f"{byte:02X}" for byte in digest)


def _alternative(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _fits(file: Path, names: tuple[str, ...], now: datetime) -> bool:
    try:
        found = x509.load_pem_x509_certificate(file.read_bytes())
        held = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (OSError, ValueError, x509.ExtensionNotFound):
        return False
    return found.not_valid_after_utc - RENEWED_BEFORE > now and {_alternative(n) for n in names} <= set(held)


def _write_private(file: Path, content: bytes) -> None:
    handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as out:
        out.write(content)


def made_here(folder: Path, names: tuple[str, ...], now: datetime) -> Certificate:
    """A certificate for these names and addresses: the one that is kept, or a new one where that no longer serves."""
    names = (*ALWAYS, *names)
    made = Certificate(folder / "certificate.pem", folder / "key.pem")
    if _fits(made.chain, names, now) and made.key.exists():
        return made
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    key = ec.generate_private_key(ec.SECP256R1())
    called = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Darre on this machine")])
    certificate = (
        x509.CertificateBuilder()
        .subject_name(called)
        .issuer_name(called)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now.astimezone(UTC) - timedelta(days=1))  # a phone's clock may be behind
        .not_valid_after(now.astimezone(UTC) + timedelta(days=DAYS - 1))
        .add_extension(x509.SubjectAlternativeName(list(map(_alternative, names))), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(key, hashes.SHA256())
    )
    plain = serialization.NoEncryption()  # the file is the server's alone, and it starts without anybody there
    _write_private(
        made.key,
        key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, plain),
    )
    _write_private(made.chain, certificate.public_bytes(serialization.Encoding.PEM))
    return made
