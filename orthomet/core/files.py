"""Files on disk: read only when they are ordinary ones and no larger than they may be, written whole or not at all.

What is written goes to a temporary file beside its target first (``.NAME.PID-STARTED-….part``, locked while its writer
lives) and takes the target's place by a rename. Parts whose writer was killed are swept at the next save or opening.
"""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import re
import secrets
import stat
import time
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO

from .errors import FormatError, OrthometError, ProjectError

PART = re.compile(r"\..+\.(?P<pid>\d+)-(?P<started>\d+)-[0-9a-f]{8}\.part")
OLD_PART = re.compile(r"\..+\.[a-z0-9_]{8}\.part|\..+\.(json|pts|svg|pdf|png|ora|csv|css)\.part|\.part-.+")
"""How parts were named by earlier versions; swept once they are an hour old."""
OLD_AGE, SWEEP_MOST = 3600.0, 2000


def shown_name(path: str | Path) -> str:
    """A file's name as words, without what can be no letter: names on disk are bytes in any alphabet.

    >>> shown_name(os.fsdecode(bytes.fromhex("2f66616365732f52656ee92e6a7067")))  # “René.jpg” in Latin letters
    'Ren�.jpg'
    """
    return os.fsencode(Path(path).name).decode("utf-8", "replace")


class NotOrdinary(OSError):
    """A folder, a device, a pipe or a socket where a file is wanted."""

    def __init__(self) -> None:
        super().__init__(errno.EINVAL, "it is not an ordinary file")


class TooLarge(OSError):
    """More bytes than may be read."""

    def __init__(self) -> None:
        super().__init__(errno.EFBIG, "it is too large")


def open_ordinary(path: str | Path) -> BinaryIO:
    """Open for reading at once; whatever would wait, or never end, is refused.

    Raises
    ------
    OSError
        Not there, not readable, or :class:`NotOrdinary`.
    """
    try:
        fd = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
    except ValueError:  # a name with a null character
        raise OSError(errno.ENOENT, os.strerror(errno.ENOENT)) from None
    except OSError as e:
        if e.errno == errno.ENXIO:  # a socket, or a device nobody is behind
            raise NotOrdinary from None
        raise
    if not stat.S_ISREG(os.fstat(fd).st_mode):
        os.close(fd)
        raise NotOrdinary
    return os.fdopen(fd, "rb")


def read_bounded(path: str | Path, limit: int) -> bytes:
    """Bytes of an ordinary file; the bound holds while reading too, whatever the file's size said before.

    Raises
    ------
    OSError
        Also :class:`NotOrdinary` and :class:`TooLarge`.
    """
    with open_ordinary(path) as f:
        if os.fstat(f.fileno()).st_size > limit:
            raise TooLarge
        data = f.read(limit + 1)
    if len(data) > limit:
        raise TooLarge
    return data


def in_words(e: OSError) -> str:
    """What went wrong, without the path and the number."""
    return e.strerror or str(e) or type(e).__name__


def read_file(path: str | Path, limit: int, what: str, error: type[OrthometError] = FormatError) -> bytes:
    """Bytes of a file somebody else wrote, or a sentence; ``what`` it should be: “a style”.

    Raises
    ------
    FormatError
        Or what ``error`` names.
    """
    name = Path(path).name
    try:
        return read_bounded(path, limit)
    except TooLarge:
        raise error(f"{name} is too large to be {what}; up to {_size(limit)} are read.") from None
    except OSError as e:
        raise error(f"{name} cannot be read: {in_words(e)}.") from None


def _size(n: int) -> str:
    return f"{n >> 20} MB" if n >= 1 << 20 else f"{n >> 10} kB"


def process_started(pid: int) -> str:
    """When a process started, as the kernel counts it: tells a number used again from the same process. Empty: none."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except (OSError, IndexError):
        return ""


def process_lives(pid: int, started: str) -> bool:
    return bool(started) and process_started(pid) == started


@contextlib.contextmanager
def replacing(path: str | Path) -> Iterator[BinaryIO]:
    """A file to write that takes the target's place when the block ends well, and is gone when it does not.

    A link is followed, so that it goes on pointing; the target's mode is kept.

    Raises
    ------
    OSError
        The target is read-only, no ordinary file, or cannot be written. It is then as it was.
    """
    target = Path(os.path.realpath(path))
    try:
        there: os.stat_result | None = target.stat()
    except FileNotFoundError:
        there = None
    if there is not None:
        if not stat.S_ISREG(there.st_mode):
            raise NotOrdinary
        # the administrator may write anything, but a file somebody set read-only was meant so
        if not there.st_mode & 0o222 or not os.access(target, os.W_OK):
            raise PermissionError(errno.EACCES, "it is read-only")
    mark = f".{os.getpid()}-{process_started(os.getpid()) or 0}-{secrets.token_hex(4)}.part"
    called = os.fsencode(target.name)[: 250 - len(mark)].decode(errors="ignore") or "file"
    temp = target.with_name(f".{called}{mark}")
    fd = os.open(temp, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)
    try:
        with contextlib.suppress(OSError):
            fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        with os.fdopen(fd, "wb") as f:
            yield f
            f.flush()
            os.fsync(f.fileno())
            if there is not None:
                os.fchmod(f.fileno(), stat.S_IMODE(there.st_mode))
            temp.replace(target)
        _sync_folder(target.parent)
    finally:
        with contextlib.suppress(OSError):
            temp.unlink(missing_ok=True)


def write_whole(path: str | Path, data: bytes) -> None:
    """Write bytes whole or not at all, on any thread; what killed writers left beside the target is swept.

    Raises
    ------
    ProjectError
        The target cannot be written; nothing is left behind.
    """
    try:
        with replacing(path) as f:
            f.write(data)
    except OSError as e:
        raise ProjectError(f"{Path(path).name} cannot be written: {in_words(e)}. Nothing was changed.") from None
    sweep(path)


def sweep(path: str | Path) -> int:
    """Take away parts beside a file that no process owns any more; how many there were. Never raises."""
    gone = 0
    with contextlib.suppress(OSError), os.scandir(Path(os.path.realpath(path)).parent) as entries:
        for k, entry in enumerate(entries):
            if k >= SWEEP_MOST:
                break
            if entry.name.startswith(".") and _left_over(entry):
                with contextlib.suppress(OSError):
                    Path(entry.path).unlink()
                    gone += 1
    return gone


def _left_over(entry: os.DirEntry[str]) -> bool:
    try:
        if not entry.is_file(follow_symlinks=False):
            return False
        m = PART.fullmatch(entry.name)
        if m is None:
            return bool(OLD_PART.fullmatch(entry.name)) and time.time() - entry.stat().st_mtime > OLD_AGE
        if process_lives(int(m["pid"]), m["started"]):
            return False
        fd = os.open(entry.path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)  # a writer elsewhere holds its lock
    except (OSError, ValueError):
        return False
    try:
        fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    finally:
        os.close(fd)
    return True


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        fd = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(fd)
        finally:
            os.close(fd)
