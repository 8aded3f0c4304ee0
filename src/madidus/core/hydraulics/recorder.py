"""What a simulation keeps: peaks always, series only when asked for, by interpolation between steps."""

from typing import NamedTuple

import numpy as np

from ..constants import GAMMA
from ..numerics.compiled import routine
from .step import end_rate, start_rate
from .work import FLOW, FLOW_1, FLOW_2, LEDGER, LEVEL, LEVEL_1, LEVEL_2, RATE, SPEED

__all__ = [
    "STEADY",
    "TOP",
    "Peaks",
    "Series",
    "Track",
    "between",
    "bow",
    "make_peaks",
    "make_series",
    "note_peaks",
    "note_series",
]

_WINDOW = 10.0  # s, over which steady figures are means
_EARLY = 1.0 / (6.0 * GAMMA * (1.0 - GAMMA))  # integrals of the parabola through 0, GAMMA and 1
_AT_END = (1.0 / 3.0 - 0.5 * GAMMA) / (1.0 - GAMMA)
_AT_START = 1.0 - _EARLY - _AT_END
_SLICES = 6  # parts of the last seconds that are held; four that are closed fill the window


# rows of Track.row; the last ones are SLICE … SLICE + _SLICES − 1, then EDGE … EDGE + _SLICES − 1
TOP, WHEN, STEADY, LEAST, MIDDLE, BEFORE, OSCILLATION, SWING_1, SWING_2 = range(9)
PACE_1, PACE_2, MEAN, RISE, SLICE = range(9, 14)
EDGE = SLICE + _SLICES


class Track(NamedTuple):
    """Extremes of several signals, and the history that they need.

    row, by signal : TOP greatest value, by a parabola through three step ends; WHEN s; STEADY greatest mean over ten
    seconds; LEAST; MIDDLE and BEFORE values one and two step ends ago; OSCILLATION largest of the smallest of three
    alternating changes; SWING_1, SWING_2 last changes; PACE_1, PACE_2 of levels: rates of change one and two step ends
    ago; MEAN over the window one step end ago, and RISE its rate of change; SLICE … integrals over the latest parts of
    the window; EDGE … values at the ends of these parts.
    """

    row: np.ndarray

    @property
    def top(self) -> np.ndarray:
        """Greatest values, float64[signal]."""
        return np.asarray(self.row[TOP])

    @property
    def when(self) -> np.ndarray:
        """Times of the greatest values, s."""
        return np.asarray(self.row[WHEN])

    @property
    def steady(self) -> np.ndarray:
        """Greatest means over ten seconds."""
        return np.asarray(self.row[STEADY])

    @property
    def least(self) -> np.ndarray:
        """Least values."""
        return np.asarray(self.row[LEAST])

    @property
    def oscillation(self) -> np.ndarray:
        """Largest of the smallest of three alternating changes."""
        return np.asarray(self.row[OSCILLATION])


class Peaks(NamedTuple):
    """Extremes of a storm. Levels by row; flows by face, then outfall and sink; speeds (m/s, either way) by face."""

    level: Track
    flow: Track
    speed: np.ndarray
    volume: np.ndarray  # greatest ledger volume of a cell, m3
    passed: np.ndarray  # m3 over the storm, as flows
    now: np.ndarray  # present flows
    early: np.ndarray  # flows at the first stage of the last step
    clock: np.ndarray  # see below
    spans: np.ndarray  # s, length of each slice


# places in Peaks.clock: times one and two step ends ago, steps seen, slice that is being filled
_MIDDLE, _BEFORE, _SEEN, _SLICE = range(4)


class Series(NamedTuple):
    """All levels and flows at equal intervals: `time[i]`, `level[i, row]`, `flow[i, face]`; `filled[0]` of them."""

    time: np.ndarray
    level: np.ndarray
    flow: np.ndarray
    filled: np.ndarray


def _track(start: np.ndarray) -> Track:
    row = np.zeros((EDGE + _SLICES, start.size))
    row[[TOP, STEADY, LEAST, MIDDLE]] = start
    row[MEAN] = -np.inf  # of no whole window yet
    row[EDGE:] = start
    return Track(row)


def make_peaks(level: np.ndarray, faces: int, outlets: int) -> Peaks:
    """Peaks of a storm that starts at rest from `level`, float64[row]."""
    flows = faces + outlets
    return Peaks(
        _track(level), _track(np.zeros(flows)), np.zeros(faces), np.zeros(level.size), np.zeros(flows), np.zeros(flows),
        np.zeros(flows), np.zeros(4), np.zeros(_SLICES),
    )  # fmt: skip


def make_series(rows: int, faces: int, frames: int, interval: float) -> Series:
    """Room for `frames` frames, `interval` s apart; none for a run that keeps none."""
    return Series(
        np.arange(frames) * float(interval), np.zeros((frames, rows)), np.zeros((frames, faces)), np.zeros(1, np.int64)
    )


@routine
def _vertex(t0, t1, t2, v0, v1, v2, cap):
    """Time and height of the parabola through three points whose middle one is the highest, at most `cap` above it."""
    a, b = (v1 - v0) / (t1 - t0), (v2 - v1) / (t2 - t1)
    bend = (b - a) / (t2 - t0)
    if bend >= 0.0:
        return t1, v1
    slope = a + bend * (t1 - t0)
    excess = -0.25 * slope * slope / bend
    return t1 - 0.5 * slope / bend, v1 + min(excess, cap)


@routine
def _turn(otherwise, t0, t1, t2, a, b, c):
    """Time at which a rate of change a, b, c at three times passes from rising to falling."""
    if b > 0.0 > c:
        return t1 + (t2 - t1) * b / (b - c)
    if a > 0.0 > b:
        return t0 + (t1 - t0) * a / (a - b)
    return otherwise


@routine
def _top_of(first, rise_first, last, rise_last, dt):
    """Greatest value of Hermite's cubic that rises at its start and falls at its end."""
    a = dt * rise_first
    b, c = 3.0 * (last - first) - 2.0 * a - dt * rise_last, a + dt * rise_last - 2.0 * (last - first)
    s = a / (np.sqrt(max(b * b - 3.0 * a * c, 0.0)) - b)
    return first + s * (a + s * (b + s * c))


@routine
def _follow(track, now, pace, early, kink, t, middle, before, seen, place, count, span, spans):  # noqa: C901 one pass over memory
    """Note the values `now` of the step that ended at t; the newest `count` slices, `span` s long, hold a window.

    track : rows as in `Track`. pace : rates of change at t, of levels alone. early : values at the first
    stage. kink : whether the inflow jumped or bent at `middle`. spans : s, of the slices.
    """
    dt = t - middle
    wide = t - before >= _WINDOW
    top, peak_at, steady, least = track[TOP], track[WHEN], track[STEADY], track[LEAST]
    values_1, values_0 = track[MIDDLE], track[BEFORE]
    swing_1, swing_2, oscillation = track[SWING_1], track[SWING_2], track[OSCILLATION]
    pace_1, pace_2, slices = track[PACE_1], track[PACE_2], track[SLICE + place]
    means, rises = track[MEAN], track[RISE]
    for i in range(now.size):
        v, v1, v0 = now[i], values_1[i], values_0[i]
        if v > top[i]:
            top[i], peak_at[i] = v, t
        if v1 > v0 and v1 >= v and seen >= 2.0:
            when, vertex = middle, v1
            rise, fall = (v1 - v0) / (middle - before), (v1 - v) / dt
            # of a triangle's tip, or of a parabola's: what the mean over the window lies below the vertex
            below = 0.5 * _WINDOW * rise * fall / (rise + fall)
            if not kink:
                when, vertex = _vertex(before, middle, t, v0, v1, v, 0.25 * min(v1 - v0, v1 - v))
                below = _WINDOW * _WINDOW / 12.0 * (rise + fall) / (t - before)
                if pace.size > 0:
                    when = _turn(when, before, middle, t, pace_2[i], pace_1[i], pace[i])
            if vertex > top[i]:
                top[i], peak_at[i] = vertex, when
            if wide:
                steady[i] = max(steady[i], vertex - below)
    if pace.size > 0:
        if not kink:  # the level's own rates tell how it bows within the step
            for i in range(now.size):
                slices[i] += dt * dt / 12.0 * (pace_1[i] - pace[i])
        pace_2[:] = pace_1
        pace_1[:] = pace
    for i in range(now.size):
        v, v1 = now[i], values_1[i]
        rise, a, b = v - v1, swing_1[i], swing_2[i]
        least_swing = min(abs(a), abs(b), abs(rise))
        oscillation[i] = max(oscillation[i], least_swing if a * b < 0.0 and b * rise < 0.0 else 0.0)
        swing_1[i] = b
        swing_2[i] = rise
        least[i] = min(least[i], v)
        values_0[i] = v1
        values_1[i] = v
        # of flows the parabola through both ends and the first stage, as of levels the cubic through both rates
        slices[i] += (0.5 * (v1 + v) if pace.size > 0 else _AT_START * v1 + _EARLY * early[i] + _AT_END * v) * dt
    if count > 0:
        oldest, before_it = (place - count + 1) % _SLICES, (place - count) % _SLICES
        part = 1.0 - (span - _WINDOW) / spans[oldest]  # of the oldest slice that is in the window
        for i in range(now.size):
            total = 0.0
            for k in range(count - 1):
                total += track[SLICE + (place - k) % _SLICES, i]
            last = now[i] if count == 1 else track[EDGE + oldest, i]
            first = track[EDGE + before_it, i]
            # the parabola through both edges that holds the slice's integral
            bow = track[SLICE + oldest, i] / spans[oldest] - 0.5 * (first + last)
            late = last - 0.5 * part * (last - first) + bow * part * (3.0 - 2.0 * part)
            mean = (total + part * spans[oldest] * late) / _WINDOW
            steady[i] = max(steady[i], mean)
            # the mean rises by what enters the window less what leaves it
            rise = (now[i] - last + part * (last - first) - 6.0 * bow * part * (1.0 - part)) / _WINDOW
            if means[i] > -np.inf and rises[i] > 0.0 > rise:
                steady[i] = max(steady[i], _top_of(means[i], rises[i], mean, rise, dt))
            means[i], rises[i] = mean, rise


@routine
def _turned_back(track, level, crown):
    """The most by which a level turned back, m, before the step is noted in its `track`.

    In a conduit (`crown` is finite) only what turned back before as well: where a void closes, the pressure there leaps
    once and falls back, however short the step.
    """
    middle, swing_1, swing_2 = track[MIDDLE], track[SWING_1], track[SWING_2]
    most = 0.0
    for i in range(level.size):
        rise, before = level[i] - middle[i], swing_2[i]
        if before * rise < 0.0 and (crown[i] == np.inf or swing_1[i] * before < 0.0):
            back = min(abs(before), abs(rise))
            most = max(most, back if crown[i] == np.inf else min(back, abs(swing_1[i])))
    return most


@routine
def note_peaks(peaks, crown, cell, face, outlet, outlet_early, cells, t, kink):
    """Note the step that ended at t, after its results have become the state. kink : inflow turned at its start.

    Returns the most by which a level turned back, m (see `_turned_back`). crown : levels, infinite of nodes.
    """
    clock, spans, faces = peaks.clock, peaks.spans, face.shape[1]
    middle, before, seen, place = clock[_MIDDLE], clock[_BEFORE], clock[_SEEN], int(clock[_SLICE])
    spans[place] += t - middle
    closes = spans[place] >= 0.25 * _WINDOW
    count, span = 0, 0.0
    while count < _SLICES - 1 and span < _WINDOW:
        span += spans[(place - count) % _SLICES]
        count += 1
    if span < _WINDOW:
        count = 0
    now = peaks.now
    now[:faces] = face[FLOW]
    now[faces:] = outlet
    early = peaks.early
    early[:faces] = face[FLOW_1]
    early[faces:] = outlet_early
    pace = cell[RATE, :cells]
    turned = _turned_back(peaks.level.row, cell[LEVEL, :cells], crown)
    _follow(
        peaks.level.row,
        cell[LEVEL, :cells],
        pace,
        cell[LEVEL_1, :cells],
        kink,
        t,
        middle,
        before,
        seen,
        place,
        count,
        span,
        spans,
    )
    _follow(peaks.flow.row, now, pace[:0], early, kink, t, middle, before, seen, place, count, span, spans)
    for i in range(cells):
        peaks.volume[i] = max(peaks.volume[i], cell[LEDGER, i])
    for f in range(faces):
        peaks.speed[f] = max(peaks.speed[f], abs(face[SPEED, f]))
    if closes:
        peaks.level.row[EDGE + place] = cell[LEVEL, :cells]
        peaks.flow.row[EDGE + place] = now
        place = (place + 1) % _SLICES
        spans[place] = 0.0
        peaks.level.row[SLICE + place] = 0.0
        peaks.flow.row[SLICE + place] = 0.0
    clock[_MIDDLE], clock[_BEFORE], clock[_SEEN], clock[_SLICE] = t, middle, seen + 1.0, place
    return turned


@routine
def between(part, dt, first, last, rate_first, rate_last):
    """Level within a step from both ends and their rates: Hermite's cubic, its slopes held where it could overshoot."""
    secant = (last - first) / dt
    if rate_first * rate_last > 0.0:
        most = 3.0 * abs(secant) if rate_first * secant > 0.0 else 0.0
        rate_first = min(max(rate_first, -most), most)
        rate_last = min(max(rate_last, -most), most)
    a, b = rate_first - secant, secant - rate_last
    return first + part * (last - first) + part * (1.0 - part) * dt * (a * (1.0 - part) + b * part)


@routine
def bow(part, first, early, last):
    """Flow within a step: the parabola through its start, its first stage and its end, within their range."""
    a = (part - GAMMA) * (part - 1.0) / GAMMA
    b = part * (part - 1.0) / (GAMMA * (GAMMA - 1.0))
    c = part * (part - GAMMA) / (1.0 - GAMMA)
    value = a * first + b * early + c * last
    return min(max(value, min(first, early, last)), max(first, early, last))


@routine
def note_series(series, floor, cells, cell, face, t, dt, kink):
    """Fill the frames between t and t + dt, before the step's results become the state. kink : inflow jumped at t."""
    k, level, level_2 = series.filled[0], cell[LEVEL], cell[LEVEL_2]
    while True:
        if k == series.time.size or series.time[k] > t + dt:
            break
        part = (series.time[k] - t) / dt
        for i in range(level.size):
            if i < cells:
                rate = end_rate(cell, i, dt)
                first = start_rate(cell, i, dt, kink)
                series.level[k, i] = max(between(part, dt, level[i], level_2[i], first, rate), floor[i])
            else:
                series.level[k, i] = level[i] + part * (level_2[i] - level[i])
        for f in range(series.flow.shape[1]):
            series.flow[k, f] = bow(part, face[FLOW, f], face[FLOW_1, f], face[FLOW_2, f])
        k += 1
    series.filled[0] = k
