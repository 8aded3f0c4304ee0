"""Pages of a PDF that has been written: their sizes, marks, words and pictures.

The library that reads them keeps one state for the whole process: only one thread is let in at a time.
"""

import io
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import pypdfium2

from ..core.errors import ModelError

__all__ = ["begins_of", "page_picture", "sizes_of", "words_of"]

_ALONE = threading.Lock()
_POINT = 25.4 / 72  # mm


@contextmanager
def _opened(content: bytes) -> Iterator[pypdfium2.PdfDocument]:
    """Raises ModelError when it is no PDF that can be read."""
    with _ALONE:
        try:
            document = pypdfium2.PdfDocument(content)
        except pypdfium2.PdfiumError as error:
            raise ModelError(
                "file", "report", "is no PDF that can be read", "choose a report as it was written"
            ) from error
        try:
            yield document
        finally:
            document.close()


def sizes_of(content: bytes) -> list[tuple[float, float]]:
    """Width and height of every page, mm."""
    with _opened(content) as document:
        sizes = [document.get_page_size(k) for k in range(len(document))]
    return [(wide * _POINT, high * _POINT) for wide, high in sizes]


def begins_of(content: bytes) -> list[int]:
    """The page (from 0) of every bookmark of the first level, in their order."""
    with _opened(content) as document:
        marks = [mark.get_dest() for mark in document.get_toc() if mark.level == 0]
        return [int(mark.get_index()) for mark in marks if mark is not None]


def words_of(content: bytes) -> tuple[str, list[str]]:
    """Keywords of a PDF, and the text of every page."""
    with _opened(content) as document:
        keywords = str(document.get_metadata_dict().get("Keywords", ""))
        pages = []
        for k in range(len(document)):
            page = document[k]
            text = page.get_textpage()
            pages.append(str(text.get_text_range()))
            text.close()
            page.close()
        return keywords, pages


def page_picture(content: bytes, page: int, wide: int) -> bytes:
    """A page (from 0) as PNG, so many pixels wide.

    Raises
    ------
    IndexError
        When there is no such page.
    """
    with _opened(content) as document:
        if not 0 <= page < len(document):
            raise IndexError(page)
        one = document[page]
        picture = one.render(scale=wide / one.get_width()).to_pil()
        one.close()
    buffer = io.BytesIO()
    picture.save(buffer, "PNG")
    return buffer.getvalue()
