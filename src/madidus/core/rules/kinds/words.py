"""Words that several kinds share."""

__all__ = ["not_above"]


def not_above(what: str, value: float, unit: str) -> str:
    """Of a level: 'at least 0.300 m below cover'."""
    return f"at least {value:.3f} {unit} below {what}" if value else f"not above {what}"
