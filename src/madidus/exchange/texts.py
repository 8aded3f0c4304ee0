"""Bytes of a text file, whatever program wrote them."""

from ..core.errors import ModelError

__all__ = ["text_of"]

_MARKS = ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"\xef\xbb\xbf", "utf-8-sig"))


def text_of(content: bytes, what: str) -> str:
    """Text by its byte order mark, else UTF-8, else Windows-1252. what : as people call the file.

    Raises
    ------
    ModelError
        When it is no text.
    """
    for mark, name in _MARKS:
        if content.startswith(mark):
            return content.decode(name, errors="replace")
    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    if "\0" in text:
        raise ModelError(what, "text", "is no text", "choose a CSV file, or paste the cells themselves")
    return text
