"""Overland flow: a nonlinear reservoir, and the kinematic plane. Depths in m, times in s."""

import numpy as np
from numba import njit

__all__ = ["kinematic_plane", "nonlinear_reservoir"]

_CELLS = 80
_FEWEST = 8


@njit(cache=True, nogil=True)
def nonlinear_reservoir(times, rate, outflow, depression, at):
    """Depth on a lumped surface at the times `at`: dd/dt = i − outflow (d − dp)^(5/3), from dry ground.

    times : float64[n + 1]; rate : float64[n], m/s of excess rain; outflow : W √S / (A n), m^(-2/3)/s; depression : dp,
    m.
    Classical Runge–Kutta in steps that follow the surface's own time, cut at the rain's steps.
    """
    found = np.zeros(len(at))
    d, t, k = 0.0, times[0], 0
    for j in range(len(at)):
        while t < at[j] - 1e-9:
            while k < len(rate) and t >= times[k + 1] - 1e-9:
                k += 1
            i = rate[k] if k < len(rate) else 0.0
            end = min(at[j], times[k + 1]) if k < len(rate) else at[j]
            above = max(d - depression, 1e-4)
            dt = min(end - t, 0.1 / max(outflow * above ** (2.0 / 3.0), 1e-6), 30.0)
            total, y = 0.0, d
            for stage in range(4):
                over = max(y - depression, 0.0)
                slope = i - outflow * over ** (5.0 / 3.0)
                total += slope * (1.0 if stage == 0 or stage == 3 else 2.0)
                y = d + slope * dt * (0.5 if stage < 2 else 1.0)
            d = max(d + dt / 6.0 * total, 0.0)
            t += dt
        found[j] = d
    return found


@njit(cache=True, nogil=True)
def kinematic_plane(times, rate, length, conveyance, depression, at):
    """At the times `at`: flow per unit width (m2/s) at the foot of a plane, and mean depth on it (m); float64[m, 2].

    q = √S/n h^(5/3), from dry ground.

    conveyance : √S/n, m^(1/3)/s; depression : m that fills first. Upwind finite volumes with limited slopes: second
    order where the surface is smooth; steps by the Courant number. A plane crossed in seconds takes fewer cells, so
    that no steep yard asks for steps far below a second.
    """
    wave = 5.0 / 3.0 * conveyance**0.6 * (max(rate.max(), 1e-9) * length) ** 0.4  # at the foot, in steady rain
    cells = max(_FEWEST, min(_CELLS, int(length / wave)))
    dx = length / cells
    h, kept = np.zeros(cells), np.zeros((len(at), 2))
    face, slope = np.zeros(cells + 1), np.zeros(cells)
    stored, t, k = 0.0, times[0], 0
    for j in range(len(at)):
        while t < at[j] - 1e-9:
            while k < len(rate) and t >= times[k + 1] - 1e-9:
                k += 1
            i = rate[k] if k < len(rate) else 0.0
            end = min(at[j], times[k + 1]) if k < len(rate) else at[j]
            fastest = 1e-6
            for c in range(cells):
                fastest = max(fastest, 5.0 / 3.0 * conveyance * (h[c] + i * 10.0) ** (2.0 / 3.0))
            dt = min(end - t, 0.45 * dx / fastest, 10.0)
            net = i
            if stored < depression:
                room = (depression - stored) / dt
                net = max(i - room, 0.0)
                stored = min(stored + i * dt, depression)
            for c in range(cells):
                left = h[c] - (h[c - 1] if c > 0 else 0.0)
                right = (h[c + 1] if c < cells - 1 else 2.0 * h[c] - (h[c - 1] if cells > 1 else 0.0)) - h[c]
                slope[c] = 0.0 if left * right <= 0.0 else (left if abs(left) < abs(right) else right)
            for c in range(cells):
                speed = 5.0 / 3.0 * conveyance * max(h[c], 0.0) ** (2.0 / 3.0)
                edge = h[c] + 0.5 * slope[c] * (1.0 - speed * dt / dx) + 0.5 * net * dt
                face[c + 1] = conveyance * max(edge, 0.0) ** (5.0 / 3.0)
            for c in range(cells):
                h[c] = max(h[c] + dt * (net - (face[c + 1] - face[c]) / dx), 0.0)
            t += dt
        edge = h[cells - 1] + 0.5 * slope[cells - 1]
        kept[j, 0] = conveyance * max(edge, 0.0) ** (5.0 / 3.0)
        kept[j, 1] = h.mean() + stored
    return kept
