from sub import sub
H="src/madidus/core/hydraulics/"
sub(H+"momentum.py",
('''def _choked(bound, per, row, y, resting):  # type: ignore[no-untyped-def]
    """Greatest velocity of an entry at a depth of the node, and its slope by that.

    resting : share of what leaves the node that does not arrive in motion; between nothing and all of it the inverse of
    the square is straight (of a rectangle exactly so).
    """
    square, step = _bound(bound, row + 1, y * per[row + 1])
    by_depth = step * per[row + 1]
    if resting < 1.0:
''','''def _choked(bound, per, row, y, resting, speed):  # type: ignore[no-untyped-def]
    """Greatest velocity of an entry at a depth of the node, and its slope by that.

    resting : share of what comes to the node that does not arrive in motion; between nothing and all of it the inverse of
    the square is straight (of a rectangle exactly so). speed : below the least bound, that of all at rest, it is enough.
    """
    square, step = _bound(bound, row + 1, y * per[row + 1])
    if speed * speed <= square:
        return speed, 0.0
    by_depth = step * per[row + 1]
    if resting < 1.0:
'''),
("_choked(entry_bound, entry_per, entries[e], y, at_rest)","_choked(entry_bound, entry_per, entries[e], y, at_rest, -v)"))
