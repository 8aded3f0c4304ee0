"""Network hydraulics: sections, the flattened network, flow laws, the solver and what it records."""
