"""A picture for cover and title blocks."""

import io

from PIL import Image, UnidentifiedImageError

from ..core.errors import ModelError

__all__ = ["check_logo"]

_LARGEST = 4 * 2**20  # bytes
_WIDEST = 4000  # pixels


def check_logo(content: bytes) -> None:
    """Raises ModelError when it is no PNG or JPEG, or so large that every page would suffer from it."""
    if len(content) > _LARGEST:
        raise ModelError("logo", "size", f"is larger than {_LARGEST // 2**20} MB", "choose a smaller picture")
    try:
        with Image.open(io.BytesIO(content), formats=("PNG", "JPEG")) as picture:
            size = picture.size
            picture.load()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise ModelError("logo", "picture", "is no PNG or JPEG that can be read", "choose another picture") from error
    if max(size) > _WIDEST:
        raise ModelError("logo", "size", f"is wider or higher than {_WIDEST} pixels", "choose a smaller picture")
