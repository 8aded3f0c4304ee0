"""Linear time–area: the contributing area grows linearly over the time of entry.

Q(t) = C A × mean intensity over the last T; with rain constant in steps the hydrograph is linear between the rain's
breakpoints and the same shifted by T, so sampling there is exact.
"""

import numpy as np

__all__ = ["mean_intensity"]


def mean_intensity(times: np.ndarray, intensity: np.ndarray, window: float, at: np.ndarray) -> np.ndarray:
    """Mean intensity over the `window` s before each time, mm/h.

    times : float64[n + 1], s; intensity : float64[n], mm/h between them; at : float64[m], s.
    """
    fallen = np.concatenate([[0.0], np.cumsum(intensity * np.diff(times))])
    mean: np.ndarray = (np.interp(at, times, fallen) - np.interp(at - window, times, fallen)) / window
    return mean
