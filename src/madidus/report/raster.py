"""Pictures of dots: a logo for cover and title blocks, a view in 3D."""

import io

from PIL import Image, UnidentifiedImageError

from ..core.errors import ModelError

__all__ = ["check_picture", "media_of", "size_of"]

_LARGEST = 4 * 2**20  # bytes
_WIDEST = 4000  # pixels


def media_of(content: bytes) -> str:
    """Its media type; empty where it is neither PNG nor JPEG."""
    return "image/png" if content[:4] == b"\x89PNG" else "image/jpeg" if content[:2] == b"\xff\xd8" else ""


def size_of(content: bytes) -> tuple[int, int]:
    """Width and height of a checked picture, pixels."""
    with Image.open(io.BytesIO(content), formats=("PNG", "JPEG")) as picture:
        return picture.size


def check_picture(content: bytes) -> None:
    """Raises ModelError when it is no PNG or JPEG, or so large that every page would suffer from it."""
    if len(content) > _LARGEST:
        raise ModelError("picture", "size", f"is larger than {_LARGEST // 2**20} MB", "choose a smaller picture")
    try:
        with Image.open(io.BytesIO(content), formats=("PNG", "JPEG")) as picture:
            size = picture.size
            picture.load()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise ModelError("picture", "file", "is no PNG or JPEG that can be read", "choose another picture") from error
    if max(size) > _WIDEST:
        raise ModelError("picture", "size", f"is wider or higher than {_WIDEST} pixels", "choose a smaller picture")
