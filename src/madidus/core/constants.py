"""Constants of nature and of the scheme."""

GRAVITY = 9.81  # m/s2
BROAD_CREST = 1.7  # m½/s, of a crest without loss: (2/3)^1.5 √g, which tables round (Henderson, 1966, 6.6)
END_INTERVALS = 64  # intervals of depth in the tables of what the ends of conduits allow
INTERVALS = 400  # intervals of depth/height in a section table
GAMMA = 1.0 - 0.5 * 2.0**0.5  # SDIRK2, Alexander (1977)
RATIO = (1.0 - GAMMA) / GAMMA
NEARLY_STILL = 3e-4  # m, change of a level over which tangents are followed
SMOOTHING = 1e-5  # m of head below which the square root of a law is made linear
