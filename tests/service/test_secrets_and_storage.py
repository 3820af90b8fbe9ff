import hashlib
import os
import stat

import pytest

from veridox.service import secrets
from veridox.service.adapters.folder import FolderStore
from veridox.service.configuration import configuration
from veridox.service.errors import ConfigurationError, NotThereError


@pytest.fixture
def keys(monkeypatch):
    """Other keys for one test, without leaving a trace in the caches."""

    def use(*wanted):
        monkeypatch.setenv("VERIDOX_KEYS", ",".join(wanted))
        secrets._keys.cache_clear()
        secrets._box.cache_clear()

    yield use
    monkeypatch.undo()
    secrets._keys.cache_clear()
    secrets._box.cache_clear()


def fernet_key():
    from cryptography.fernet import Fernet

    return Fernet.generate_key().decode()


def test_a_secret_survives_a_newer_key_but_not_the_loss_of_its_own(keys):
    old, new = fernet_key(), fernet_key()
    keys(old)
    sealed = secrets.encrypt("word")
    assert b"word" not in sealed
    keys(new, old)
    assert secrets.decrypt(sealed) == "word"
    keys(new)
    with pytest.raises(ConfigurationError, match="key is missing"):
        secrets.decrypt(sealed)


def test_seals_of_the_trail_stay_good_when_a_newer_key_is_put_in_front(keys):
    old = fernet_key()
    keys(old)
    before = secrets.seal("trail", b"x")
    keys(fernet_key(), old)
    assert secrets.seal("trail", b"x") == before


def test_what_is_no_key_is_told(keys):
    keys("not a key")
    with pytest.raises(ConfigurationError, match="not a Fernet key"):
        secrets.encrypt("x")


def test_the_key_file_is_made_once_and_only_its_owner_reads_it(tmp_path):
    path = tmp_path / "deep" / "keys"
    assert secrets.make_key_file(path)
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    content = path.read_bytes()
    assert not secrets.make_key_file(path)
    assert path.read_bytes() == content


def test_a_file_is_kept_under_its_hash_and_written_once(tmp_path):
    store = FolderStore(tmp_path)
    sha256 = store.put(b"content")
    assert sha256 == hashlib.sha256(b"content").hexdigest()
    (path,) = [p for p in tmp_path.rglob("*") if p.is_file()]
    inode = os.stat(path).st_ino
    assert store.put(b"content") == sha256
    assert os.stat(path).st_ino == inode
    assert store.get(sha256) == b"content"


def test_a_file_that_is_not_there_is_told(tmp_path):
    with pytest.raises(NotThereError):
        FolderStore(tmp_path).get("0" * 64)


@pytest.mark.parametrize("url", ["mysql://x/y", "postgresql://host", "nonsense"])
def test_a_database_address_of_the_wrong_form_is_told(monkeypatch, url):
    monkeypatch.setenv("VERIDOX_DATABASE", url)
    with pytest.raises(ConfigurationError, match="postgresql://"):
        configuration()
