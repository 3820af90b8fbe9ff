"""A small certificate authority of the demo's own, and the mail server's certificate."""

import ipaddress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID


def _name(text: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, text)])


def _write_key(path: Path, key: ec.EllipticCurvePrivateKey) -> None:
    path.touch(0o600)
    path.write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )


def make_certificates(folder: Path) -> None:
    """`ca.pem`, `server.pem` and `server.key` for 127.0.0.1 and localhost, unless there."""
    if (folder / "server.pem").exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    now = datetime.now(UTC)
    root_key, key = ec.generate_private_key(ec.SECP256R1()), ec.generate_private_key(ec.SECP256R1())
    base = x509.CertificateBuilder().not_valid_before(now - timedelta(days=1))
    base = base.not_valid_after(now + timedelta(days=3650))
    root = (
        base.subject_name(_name("Merrowmere demo authority"))
        .issuer_name(_name("Merrowmere demo authority"))
        .public_key(root_key.public_key())
        .serial_number(x509.random_serial_number())
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(
            x509.KeyUsage(
                digital_signature=False, content_commitment=False, key_encipherment=False,
                data_encipherment=False, key_agreement=False, key_cert_sign=True, crl_sign=True,
                encipher_only=False, decipher_only=False,
            ),
            critical=True,
        )
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(root_key.public_key()), False)
        .sign(root_key, hashes.SHA256())
    )  # fmt: skip
    names = [x509.DNSName("localhost"), x509.IPAddress(ipaddress.ip_address("127.0.0.1"))]
    server = (
        base.subject_name(_name("localhost"))
        .issuer_name(root.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(root_key.public_key()), False
        )
        .sign(root_key, hashes.SHA256())
    )
    _write_key(folder / "server.key", key)
    (folder / "ca.pem").write_bytes(root.public_bytes(serialization.Encoding.PEM))
    (folder / "server.pem").write_bytes(server.public_bytes(serialization.Encoding.PEM))
