"""Secrets at rest: encrypted with keys from the environment or the key file, never shown."""

import hashlib
import hmac
import os
from functools import cache
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings

from veridox.service.errors import ConfigurationError


def make_key_file(path: Path) -> bool:
    """Write a new key file (mode 0600) unless there is one. Returns whether it was made."""
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return False
    with os.fdopen(handle, "wb") as file:
        file.write(Fernet.generate_key() + b"\n")
        file.flush()
        os.fsync(file.fileno())
    return True


@cache
def _keys() -> tuple[bytes, ...]:
    given = os.environ.get("VERIDOX_KEYS")
    if given:
        keys = tuple(key.strip().encode() for key in given.split(",") if key.strip())
    else:
        file: Path = settings.CONFIGURATION.key_file
        if not file.exists():
            raise ConfigurationError(f"there is no key file {file}; run: veridox setup")
        keys = tuple(line.strip() for line in file.read_bytes().splitlines() if line.strip())
    if not keys:
        raise ConfigurationError("there is no encryption key")
    return keys


@cache
def _box() -> MultiFernet:
    try:
        return MultiFernet([Fernet(key) for key in _keys()])
    except ValueError as error:
        raise ConfigurationError("an encryption key is not a Fernet key") from error


def encrypt(secret: str) -> bytes:
    """Encrypt with the newest key."""
    return _box().encrypt(secret.encode())


def encrypt_again(sealed: bytes) -> bytes:
    """The same secret under the newest key. Raises ConfigurationError when no key fits."""
    return encrypt(decrypt(sealed))


def add_key(path: Path) -> None:
    """Put a new key before the others in the key file, which is never half written."""
    if os.environ.get("VERIDOX_KEYS"):
        raise ConfigurationError("the keys come from VERIDOX_KEYS: put a new one first there")
    old = path.read_bytes()
    new = path.with_name(path.name + ".new")
    handle = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(Fernet.generate_key() + b"\n" + old)
        file.flush()
        os.fsync(file.fileno())
    new.replace(path)
    forget_keys()


def forget_keys() -> None:
    """The next use reads them anew."""
    _keys.cache_clear()
    _box.cache_clear()


def decrypt(sealed: bytes) -> str:
    """Decrypt with whichever key fits. Raises ConfigurationError when none does."""
    try:
        return _box().decrypt(bytes(sealed)).decode()
    except InvalidToken:
        # Another process may have put a newer key into the file since we read it.
        forget_keys()
    try:
        return _box().decrypt(bytes(sealed)).decode()
    except InvalidToken as error:
        raise ConfigurationError(
            "a stored secret cannot be decrypted: its key is missing from the key file"
        ) from error


def seal(purpose: str, content: bytes) -> str:
    """Keyed digest (HMAC-SHA-256, hexadecimal) under the oldest key, which stays for good.

    The oldest key is the last in the file: adding newer ones in front keeps
    earlier seals valid.
    """
    key = hashlib.sha256(purpose.encode() + _keys()[-1]).digest()
    return hmac.new(key, content, hashlib.sha256).hexdigest()
