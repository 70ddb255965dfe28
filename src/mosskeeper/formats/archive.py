"""Several files in one archive (ZIP), by names that no file system refuses."""

from __future__ import annotations

import re
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from typing import IO

_IN_MEMORY = 16_000_000  # bytes, beyond which it is written to a file
_CHUNK = 1 << 18
_LONGEST = 100  # characters of a name


def archived(files: Iterable[tuple[str, str, bytes]]) -> Iterator[bytes]:
    """The bytes of an archive, which is complete before the first of them is asked for.

    files : name, ending and bytes of each, one after the other in memory; of two with one name the later gets a number.
    """
    used: set[str] = set()
    out = tempfile.SpooledTemporaryFile(max_size=_IN_MEMORY)  # noqa: SIM115 closed once it is read
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as file:
        for name, ending, data in files:
            file.writestr(f"{_free(name, used)}.{ending}", data)
    out.seek(0)
    return _read(out)


def _read(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while chunk := file.read(_CHUNK):
            yield chunk


def _free(name: str, used: set[str]) -> str:
    """A name without what file systems refuse, and that is not used yet; it is noted in `used`."""
    plain = re.sub(r"[^\w .,()-]+", "-", name).strip(" .-")[:_LONGEST] or "picture"
    free, n = plain, 1
    while free.lower() in used:
        n += 1
        free = f"{plain} {n}"
    used.add(free.lower())
    return free
