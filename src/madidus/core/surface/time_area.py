"""Linear time–area: the contributing area grows linearly over the time of entry.

Q(t) = C A × mean intensity over the last T; with rain constant in steps the hydrograph is linear between the rain's
breakpoints and the same shifted by T, so sampling there is exact.
"""

import numpy as np

__all__ = ["mean_intensities", "mean_intensity"]


def mean_intensity(times: np.ndarray, intensity: np.ndarray, window: float, at: np.ndarray) -> np.ndarray:
    """Mean intensity over the `window` s before each time, mm/h.

    times : float64[n + 1], s; intensity : float64[n], mm/h between them; at : float64[m], s.
    """
    return mean_intensities(times, intensity, np.array([window]), at)[:, 0]


def mean_intensities(times: np.ndarray, intensity: np.ndarray, windows: np.ndarray, at: np.ndarray) -> np.ndarray:
    """Mean intensity over each of `windows` (s) before each time, mm/h; float64[m, k]."""
    fallen = np.concatenate([[0.0], np.cumsum(intensity * np.diff(times))])
    before = np.interp(at[:, None] - windows, times, fallen)
    return np.asarray((np.interp(at, times, fallen)[:, None] - before) / windows)
