"""A file under a passphrase: AES-256 in GCM, its key by scrypt; both are open standards. What was changed does not
open."""

from __future__ import annotations

import os

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

from imbuto.core.basics.errors import InvalidValue, UnreadableFile

MAGIC = b"imbuto-sealed-1\n"
SALT, NONCE, COST = 16, 12, 2**15
SHORTEST = 8


def seal(data: bytes, passphrase: str) -> bytes:
    """Raises InvalidValue for a passphrase that is guessed at once."""
    if len(passphrase) < SHORTEST:
        raise InvalidValue("passphrase", f"{len(passphrase)} signs", f"use at least {SHORTEST}; a few words are best")
    salt, nonce = os.urandom(SALT), os.urandom(NONCE)
    return MAGIC + salt + nonce + AESGCM(_key(passphrase, salt)).encrypt(nonce, data, MAGIC)


def is_sealed(data: bytes) -> bool:
    """Whether a file wants a passphrase."""
    return data.startswith(MAGIC)


def unseal(data: bytes, passphrase: str, name: str) -> bytes:
    """Raises UnreadableFile for the wrong passphrase and for a file that was damaged, which cannot be told apart."""
    start = len(MAGIC) + SALT + NONCE
    salt, nonce = data[len(MAGIC) : len(MAGIC) + SALT], data[len(MAGIC) + SALT : start]
    try:
        return AESGCM(_key(passphrase, salt)).decrypt(nonce, data[start:], MAGIC)
    except (InvalidTag, ValueError):
        raise UnreadableFile(name, None, "the passphrase is wrong, or the file is damaged") from None


def _key(passphrase: str, salt: bytes) -> bytes:
    return Scrypt(salt=salt, length=32, n=COST, r=8, p=1).derive(passphrase.encode())
