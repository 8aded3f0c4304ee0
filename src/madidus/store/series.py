"""Series of storms on disk: a cache, for what is gone from it is computed again."""

import os
import threading
from collections.abc import Sequence
from pathlib import Path
from uuid import uuid4

import numpy as np

from ..core.series import StormSeries

__all__ = ["SeriesCache"]

_STEPS = 65_535  # of the range of a column: 0.05 mm of 3 m


class SeriesCache:
    """One file a storm, named by the digest of what the solver saw.

    A file is an array of records, a column each: least value, step, and its values as counts of steps. The first one
    is time. So one column is read without the others.
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
        rows = np.empty(columns + 1, dtype=[("least", "<f4"), ("step", "<f4"), ("count", "<u2", (frames,))])
        rows[0] = 0.0, series.interval, np.arange(frames)
        least = series.values.min(axis=1)
        step = np.maximum(series.values.max(axis=1) - least, 1e-12) / _STEPS
        rows["least"][1:], rows["step"][1:] = least, step
        rows["count"][1:] = np.round((series.values - least[:, None]) / step[:, None])
        part = self._folder / f"{uuid4().hex}.part"
        try:
            with part.open("wb") as file:
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
        file = self._file(digest)
        try:
            rows = np.load(file, mmap_mode="r", allow_pickle=False)
            os.utime(file)
        except (OSError, ValueError):  # gone, or cut off by a full disk
            return None
        chosen = rows[1:] if columns is None else rows[[1 + k for k in columns]]
        values = chosen["count"] * chosen["step"][:, None]
        values += chosen["least"][:, None]
        return StormSeries(float(rows["step"][0]), values)

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
