"""Following a picture on disk: every state a paint program saves is read once, when it is whole, and never half.

A watch on the file and its folder says that something stirs. Then, on a short clock: the file's stamp stands still; nobody has
it open for writing (on Linux a read lease is refused while a writer is in, and given back at once); the container is whole;
and the stamp is the same after reading. JPEG, TIFF and WebP carry no checksum, so that only the lease and the rest tell there.
"""

from __future__ import annotations

import contextlib
import errno
import os
import signal
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

from ..core.errors import OrthometError, PictureError
from ..core.files import in_words
from ..core.imaging.containers import is_archive, lacking, merged_image
from ..core.imaging.load import read_bytes
from .pictures import Read, read_picture
from .work import Say, Work

REST_MS, CHECKED_MS = 60, 4
"""How long a file has to stand still; and one whose own checksums tell that it is whole (own)."""
CHECKED = (".png", ".ora")
GLANCE_MS = 1000
"""How often a file is looked at that nobody announced: network folders, lost watches (own)."""
PATIENCE = 30.0
"""Seconds after which a file that never becomes whole is told (own)."""
AWAY = 1.0
"""Seconds a file may be away, as it is between being deleted and written anew, before that is told (own)."""
FOLLOWED = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".ora")
Stamp = tuple[int, int, int, int]


def stamp(path: str) -> Stamp | None:
    """Device, inode, size and time of change; ``None`` where there is no such file."""
    try:
        s = Path(path).stat()
    except OSError:
        return None
    return s.st_dev, s.st_ino, s.st_size, s.st_mtime_ns


def being_written(path: str) -> bool:
    """Whether some process has the file open for writing; False where it cannot be known (another machine's, another user's file)."""
    try:
        import fcntl

        setting, reading, letting_go = fcntl.F_SETLEASE, fcntl.F_RDLCK, fcntl.F_UNLCK
    except (ImportError, AttributeError):
        return False
    try:
        fd = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
    except OSError:
        return False
    try:
        fcntl.fcntl(fd, setting, reading)
        fcntl.fcntl(fd, setting, letting_go)
        return False
    except OSError as e:
        return e.errno == errno.EAGAIN
    finally:
        os.close(fd)


class NotYet(PictureError):
    """The file is not whole yet; the sentence says what it lacks."""


def read_whole(path: str, expected: Stamp) -> Read:
    """A followed picture, read and decoded, on any thread.

    Raises
    ------
    NotYet
        It is cut off, or changed while it was read.
    PictureError
    """
    data = read_bytes(path)
    if stamp(path) != expected:
        raise NotYet("It changed while it was read.")
    wanting = lacking(data)
    if wanting:
        raise NotYet(f"It still lacks {wanting}.")
    read = read_picture(merged_image(data) if is_archive(data) else data, Path(path).name)
    if stamp(path) != expected:
        raise NotYet("It changed while it was decoded.")
    return read


class Follower(QObject):
    """``arrived`` once for every new whole state of one file; ``noted`` says what it waits for, empty when all is well."""

    arrived = Signal(object)
    noted = Signal(str)

    def __init__(self, path: str, work: Work, parent: QObject | None = None, known: str = ""):
        """``known`` is the content that needs no telling: what is at hand already."""
        super().__init__(parent)
        with contextlib.suppress(ValueError):  # a lease that is broken while it is held must not end the program
            signal.signal(signal.SIGIO, signal.SIG_IGN)
        self.path, self._work, self._given = str(Path(path).absolute()), work, known
        self._watch = QFileSystemWatcher(self)
        self._watch.fileChanged.connect(self._stirred)
        self._watch.directoryChanged.connect(self._stirred)
        self._clock = QTimer(self, singleShot=True)
        self._clock.timeout.connect(self._ask)
        self._glances = QTimer(self)
        self._glances.timeout.connect(self._glance)
        self._glances.start(GLANCE_MS)
        self._last: Stamp | None = None
        self._done: Stamp | None = None
        self._ticket = 0
        self._since: float | None = None
        self._told = ""
        self._stirred()

    @property
    def name(self) -> str:
        return Path(self.path).name

    def stop(self) -> None:
        """Follow it no more; what is being read is given up."""
        self._clock.stop()
        self._glances.stop()
        self._watch.removePaths([*self._watch.files(), *self._watch.directories()])
        if self._ticket:
            self._work.cancel(self._ticket)
        self.deleteLater()

    # ---- what stirs

    def _watch_again(self) -> None:
        """A rename or a delete drops the watch on the file."""
        folder = Path(self.path).parent
        if str(folder) not in self._watch.directories() and folder.is_dir():
            self._watch.addPath(str(folder))
        if self.path not in self._watch.files() and Path(self.path).exists():
            self._watch.addPath(self.path)

    def _stirred(self, *_: object) -> None:
        self._watch_again()
        s = stamp(self.path)
        if (s is not None and s == self._done) or self._ticket:
            return
        if self._since is None:
            self._since = time.monotonic()
        if not self._clock.isActive():
            self._last = s
            self._clock.start(CHECKED_MS if self.path.lower().endswith(CHECKED) else REST_MS)

    def _glance(self) -> None:
        if not self._clock.isActive() and not self._ticket and stamp(self.path) != self._done:
            self._stirred()

    def _ask(self) -> None:
        s = stamp(self.path)
        if s is None:
            return self._later("The file is gone. It goes on when it is back.", AWAY)
        if s[2] == 0:
            return self._later("The file is empty.")
        if s == self._done:
            self._since = None
            return self._tell("")
        if s != self._last or being_written(self.path):
            return self._later("It is being written.")

        def job(say: Say) -> Read | str:
            try:
                return read_whole(self.path, s)
            except NotYet as e:
                return str(e)
            except OrthometError:
                raise
            except OSError as e:
                return f"It cannot be read: {in_words(e)}."

        take: Callable[[Read | str], None] = lambda got: self._take(s, got)  # noqa: E731
        self._ticket = self._work.start("", job, take, failed=lambda words: self._refused(s, words), what=f"Reading {self.name}")
        return None

    def _later(self, why: str, patience: float = PATIENCE) -> None:
        waited = time.monotonic() - self._since if self._since is not None else 0.0
        if waited > patience:
            self._tell(why)
        self._last = stamp(self.path)
        # a file that has been away or broken for long is asked for at every glance, not sixteen times a second
        if waited <= patience:
            self._clock.start(REST_MS)

    def _take(self, s: Stamp, got: Read | str) -> None:
        self._ticket = 0
        if isinstance(got, str):
            return self._later(got)
        self._done, self._since = s, None
        self._tell("")
        if got.record.hash != self._given:
            self._given = got.record.hash
            self.arrived.emit(got)
        if stamp(self.path) != s:
            self._stirred()
        return None

    def _refused(self, s: Stamp, words: str) -> None:
        """Whole, but no picture that can be used: told, and not asked again until it changes."""
        self._ticket = 0
        self._done, self._since = s, None
        self._tell(words)

    def _tell(self, words: str) -> None:
        if words != self._told:
            self._told = words
            self.noted.emit(words)
