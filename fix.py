from sub import sub
R="src/madidus/core/hydraulics/recorder.py"
sub(R,
('''            mean = (total + part * spans[oldest] * late) / _WINDOW
            steady[i] = max(steady[i], mean)
            if mean_1[i] > mean_2[i] and mean_1[i] >= mean and overlap:
                # means turn smoothly: steps of unlike lengths may leave the top well above the middle one
                most = 0.25 * max(mean_1[i] - mean_2[i], mean_1[i] - mean)
                _, vertex = _vertex(before, middle, t, mean_2[i], mean_1[i], mean, most)
                steady[i] = max(steady[i], vertex)
            mean_2[i] = mean_1[i]
            mean_1[i] = mean
''','''            mean = (total + part * spans[oldest] * late) / _WINDOW
            steady[i] = max(steady[i], mean)
            # the mean rises by what enters the window less what leaves it
            rise = (now[i] - last + part * (last - first) - 6.0 * bow * part * (1.0 - part)) / _WINDOW
            if means[i] > -np.inf and rises[i] > 0.0 > rise:
                steady[i] = max(steady[i], _top_of(means[i], rises[i], mean, rise, dt))
            means[i], rises[i] = mean, rise
'''),
('''@routine
def _follow(''','''@routine
def _top_of(first, rise_first, last, rise_last, dt):  # type: ignore[no-untyped-def]
    """Greatest value of Hermite's cubic that rises at its start and falls at its end."""
    a = dt * rise_first
    b, c = 3.0 * (last - first) - 2.0 * a - dt * rise_last, a + dt * rise_last - 2.0 * (last - first)
    s = a / (np.sqrt(max(b * b - 3.0 * a * c, 0.0)) - b)
    return first + s * (a + s * (b + s * c))


@routine
def _follow('''),
("    wide, overlap = t - before >= _WINDOW, max(middle - before, dt) < _WINDOW\n","    wide = t - before >= _WINDOW\n"),
("    mean_1, mean_2 = track[MEAN_1], track[MEAN_2]\n","    means, rises = track[MEAN], track[RISE]\n"),
("    row[[MEAN_1, MEAN_2]] = start\n","    row[MEAN] = -np.inf  # of no whole window yet\n"),
)
