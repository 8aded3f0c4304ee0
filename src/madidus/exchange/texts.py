"""Bytes of a text file, whatever program wrote them."""

from ..core.errors import ModelError

__all__ = ["ANSI", "marked", "text_of"]

ANSI = "cp1252"  # what texts are that are neither marked nor UTF-8; Latin-1 is a part of it
_MARKS = ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"\xef\xbb\xbf", "utf-8-sig"))


def marked(head: bytes) -> str | None:
    """The encoding by the byte order mark that a file begins with; None where it has none."""
    return next((name for mark, name in _MARKS if head.startswith(mark)), None)


def text_of(content: bytes, what: str) -> str:
    """Text by its byte order mark, else UTF-8, else Windows-1252. what : as people call the file.

    Raises
    ------
    ModelError
        When it is no text.
    """
    if name := marked(content):
        return content.decode(name, errors="replace")
    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError:
        text = content.decode(ANSI, errors="replace")
    if "\0" in text:
        raise ModelError(what, "text", "is no text", "choose a CSV file, or paste the cells themselves")
    return text
