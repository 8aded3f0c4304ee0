"""Series of storms on disk: a cache, for what is gone from it is computed again."""

import os
import threading
from collections.abc import Sequence
from pathlib import Path
from typing import BinaryIO
from uuid import uuid4

import numpy as np

from ..core.results.series import StormSeries

__all__ = ["SeriesCache"]

_STEPS = 65_535  # of the range of a column: 0.05 mm of 3 m


class SeriesCache:
    """One file a storm, named by the digest of what the solver saw.

    A file holds the scale of the tolerances and the times, then an array of records, a column each: least value, step,
    and its values as counts of steps. So one column is read without the others.
    """

    def __init__(self, folder: Path, most_bytes: int = 4 << 30):
        self._folder, self._most = folder, most_bytes
        self._lock = threading.Lock()
        folder.mkdir(parents=True, exist_ok=True)
        for part in folder.glob("*.part"):  # of a server that was killed while it wrote
            part.unlink()
        self._held = sum(file.stat().st_size for file in folder.glob("*.npy"))

    def keep(self, digest: str, series: StormSeries) -> None:
        """Store the series of a storm; the files that were not read for longest go when there is no room."""
        columns, frames = series.values.shape
        rows = np.empty(columns, dtype=[("least", "<f4"), ("step", "<f4"), ("count", "<u2", (frames,))])
        least = series.values.min(axis=1)
        step = np.maximum(series.values.max(axis=1) - least, 1e-12) / _STEPS
        rows["least"], rows["step"] = least, step
        rows["count"] = np.round((series.values - least[:, None]) / step[:, None])
        part = self._folder / f"{uuid4().hex}.part"
        try:
            with part.open("wb") as file:
                np.save(file, np.append(series.scale, series.time))
                np.save(file, rows)
            with self._lock:
                self._held += part.stat().st_size
                os.replace(part, self._file(digest))
                if self._held > self._most:
                    self._make_room()
        except OSError:  # a full disk costs a computation later, not the run
            part.unlink(missing_ok=True)

    def read(self, digest: str, columns: Sequence[int] | None = None) -> StormSeries | None:
        """The series of a storm, all of them or some; None where it is not kept."""
        path = self._file(digest)
        try:
            with path.open("rb") as file:
                scale, *time = np.load(file, allow_pickle=False)
                rows = _rest(file)
            os.utime(path)
        except (OSError, ValueError):  # gone, or cut off by a full disk
            return None
        chosen = rows if columns is None else rows[list(columns)]
        values = chosen["count"] * chosen["step"][:, None]
        values += chosen["least"][:, None]
        return StormSeries(np.array(time), values, float(scale))

    def _file(self, digest: str) -> Path:
        return self._folder / f"{digest}.npy"

    def _make_room(self) -> None:
        files = sorted((file.stat().st_mtime, file.stat().st_size, file) for file in self._folder.glob("*.npy"))
        self._held = sum(size for _, size, _ in files)
        for _, size, file in files:
            if self._held <= 0.8 * self._most:
                break
            file.unlink(missing_ok=True)
            self._held -= size


def _rest(file: BinaryIO) -> np.ndarray:
    """The array that a file goes on with, mapped and not read."""
    version = np.lib.format.read_magic(file)
    header = {(1, 0): np.lib.format.read_array_header_1_0, (2, 0): np.lib.format.read_array_header_2_0}[version]
    shape, _, dtype = header(file)
    return np.memmap(file, dtype=dtype, mode="r", offset=file.tell(), shape=shape)
