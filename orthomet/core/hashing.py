"""Content hashes: how a picture is named wherever it is kept."""

import hashlib


def content_hash(data: bytes) -> str:
    """SHA-256 of the bytes, 64 hex digits."""
    return hashlib.sha256(data).hexdigest()
