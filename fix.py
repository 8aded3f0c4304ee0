from sub import sub
H="src/madidus/core/hydraulics/"
sub(H+"momentum.py",
('''                    position = arrives * end[STREAM_PER, stream]
                    if position < END_INTERVALS:
                        brought, _ = _bound(stream_table, stream, position)
                        fastest, by_node = _carried(fastest, by_node, brought, area, breadth)
''','''                    brought = _brought(stream_table, stream, arrives * end[STREAM_PER, stream])
                    fastest, by_node = _carried(fastest, by_node, brought, area, breadth)
'''),
('''@kernel
def _carried(''','''@kernel
def _brought(tables, row, position):  # type: ignore[no-untyped-def]
    """Momentum over density that a stream brings, m4/s2; beyond its table the conduit is full: as the flow's square."""
    if position < END_INTERVALS:
        return _bound(tables, row, position)[0]
    return tables[row, END_INTERVALS] * (position / END_INTERVALS) ** 2


@kernel
def _carried('''))
