"""Grids of levels and pictures that know their place: GeoTIFF, ASCII grid, PNG or JPEG with a world file."""

import io
import math
import re
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
import rasterio
from PIL import Image
from rasterio.enums import Resampling
from rasterio.errors import RasterioError
from rasterio.transform import Affine
from rasterio.warp import calculate_default_transform, reproject

from ..core.errors import ModelError
from ..core.ground.terrain import Terrain

__all__ = ["pack_terrain", "read_picture", "read_terrain", "unpack_terrain"]

_MOST_CELLS = 64_000_000
_LARGEST_SIDE = 4096  # px of a kept picture
_LOCAL = ("GTiff", "AAIGrid")  # formats that may be opened: none of them reaches for other files or the network
Extent = tuple[float, float, float, float]


@contextmanager
def _opened(content: bytes, what: str) -> Iterator[rasterio.DatasetReader]:
    """A dataset in memory.

    Raises
    ------
    ModelError
        When it is none of the formats, broken, or too large.
    """
    suffix = ".tif" if content[:2] in (b"II", b"MM") else ".asc"
    try:
        with rasterio.MemoryFile(content, ext=suffix) as memory, memory.open(driver=_LOCAL) as dataset:
            if dataset.width * dataset.height > _MOST_CELLS:
                raise ModelError(
                    "file", "size", f"has {dataset.width} by {dataset.height} cells, more than {_MOST_CELLS:,}",
                    "cut out the ground around the site, or make it coarser",
                )  # fmt: skip
            yield dataset
    except (RasterioError, ValueError, MemoryError, OSError) as error:
        raise ModelError("file", what, f"cannot be read: {error}", "write it as GeoTIFF or ASCII grid") from error


def read_terrain(content: bytes, grid: str | None) -> Terrain:
    """Levels of the first band, in m; warped to the project's grid where file and project name different ones.

    Raises
    ------
    ModelError
        When it cannot be read, holds no levels, or lies askew or in degrees without a grid to turn it into.
    """
    with _opened(content, "terrain") as dataset:
        source = np.asarray(dataset.read(1, masked=True).astype(np.float32).filled(np.nan))
        transform, crs = dataset.transform, dataset.crs
        levels, placed = source, transform
        if grid is not None and crs is not None and crs != rasterio.CRS.from_string(grid):
            target = rasterio.CRS.from_string(grid)
            placed, width, height = calculate_default_transform(
                crs, target, dataset.width, dataset.height, *dataset.bounds
            )
            side = min(placed.a, -placed.e)
            width, height = math.ceil(width * placed.a / side), math.ceil(height * -placed.e / side)
            if width * height > _MOST_CELLS:
                raise ModelError("file", "size", "is too large in the project's grid", "cut out the ground of the site")
            placed = Affine(side, 0.0, placed.c, 0.0, -side, placed.f)
            levels = np.full((height, width), np.nan, dtype=np.float32)
            reproject(
                source, levels, src_transform=transform, dst_transform=placed, src_crs=crs, dst_crs=target,
                src_nodata=np.nan, dst_nodata=np.nan, resampling=Resampling.bilinear,
            )  # fmt: skip
        elif crs is not None and crs.is_geographic:
            raise ModelError(
                "file", "terrain", "is in degrees", "choose the project's coordinate system first, then add it again"
            )
    askew = abs(placed.b) > 1e-9 or abs(placed.d) > 1e-9
    if askew or placed.e >= 0 or not math.isclose(placed.a, -placed.e, rel_tol=1e-6):
        raise ModelError("file", "terrain", "has cells that are no squares with north up", "warp it to a plain grid")
    levels[~((levels > -1000.0) & (levels < 9000.0))] = np.nan
    if not np.isfinite(levels).any():
        raise ModelError("file", "terrain", "holds no level between -1000 and 9000 m", "check its units and band")
    south = placed.f - levels.shape[0] * placed.a
    return Terrain(levels, float(placed.c), float(south), float(placed.a))


def pack_terrain(terrain: Terrain) -> bytes:
    """As bytes that `unpack_terrain` reads."""
    buffer = io.BytesIO()
    place = np.array([terrain.west, terrain.south, terrain.cell])
    np.savez_compressed(buffer, levels=terrain.levels.astype(np.float32), place=place)
    return buffer.getvalue()


def unpack_terrain(content: bytes) -> Terrain:
    """A terrain as it was packed."""
    with np.load(io.BytesIO(content), allow_pickle=False) as arrays:
        west, south, cell = (float(v) for v in arrays["place"])
        return Terrain(arrays["levels"], west, south, cell)


def read_picture(content: bytes, world: bytes | None, grid: str | None) -> tuple[bytes, Extent]:
    """PNG bytes with north up, and the extent in m, of a PNG or JPEG with its world file or of a GeoTIFF.

    Raises
    ------
    ModelError
        When it cannot be read, or nothing says where it lies.
    """
    if content[:2] in (b"II", b"MM"):
        image, transform = _geotiff_picture(content, grid)
    else:
        if world is None:
            raise ModelError(
                "file", "world file", "is missing: nothing says where the picture lies",
                "add the picture and its world file (.pgw, .jgw, .wld) together",
            )  # fmt: skip
        image, transform = _plain_picture(content), _world(world)
    return _north_up(image, transform)


def _plain_picture(content: bytes) -> Image.Image:
    try:
        # the pixels are counted before they are unpacked: a small file can hold a huge picture
        image = Image.open(io.BytesIO(content), formats=("PNG", "JPEG"))
        if image.width * image.height > _MOST_CELLS:
            raise ModelError("file", "size", f"has {image.width} by {image.height} pixels", "make the picture smaller")
        return image.convert("RGBA")
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise ModelError("file", "picture", f"cannot be read: {error}", "write it as PNG or JPEG") from error


def _geotiff_picture(content: bytes, grid: str | None) -> tuple[Image.Image, Affine]:
    with _opened(content, "picture") as dataset:
        if dataset.transform.is_identity:
            raise ModelError("file", "picture", "does not say where it lies", "write it as GeoTIFF with its place")
        share = max(dataset.width, dataset.height) / _LARGEST_SIDE
        width, height = (max(1, round(n / max(share, 1.0))) for n in (dataset.width, dataset.height))
        bands = dataset.read(out_shape=(dataset.count, height, width), resampling=Resampling.average)
        transform = dataset.transform @ Affine.scale(dataset.width / width, dataset.height / height)
        crs = dataset.crs
    bands = bands[:4] if dataset.count >= 3 else np.repeat(bands[:1], 3, axis=0)
    if bands.dtype != np.uint8:
        low, high = np.nanpercentile(bands, (1, 99))
        bands = (np.clip((bands - low) / max(high - low, 1e-12), 0, 1) * 255).astype(np.uint8)
    if grid is not None and crs is not None and crs != rasterio.CRS.from_string(grid):
        target = rasterio.CRS.from_string(grid)
        bounds = rasterio.transform.array_bounds(height, width, transform)
        placed, w, h = calculate_default_transform(crs, target, width, height, *bounds)
        warped = np.zeros((bands.shape[0] + (bands.shape[0] == 3), h, w), dtype=np.uint8)
        opaque = bands if bands.shape[0] == 4 else np.concatenate([bands, np.full_like(bands[:1], 255)])
        reproject(opaque, warped, src_transform=transform, dst_transform=placed, src_crs=crs, dst_crs=target)
        bands, transform = warped, placed
    return Image.fromarray(np.moveaxis(bands, 0, -1)).convert("RGBA"), transform


def _world(content: bytes) -> Affine:
    """Six numbers: across, turn, turn, down, and the middle of the first pixel."""
    words = re.split(rb"\s+", content.strip()[:2000])
    try:
        a, d, b, e, c, f = (float(word.replace(b",", b".")) for word in words[:6])
    except ValueError as error:
        raise ModelError(
            "file", "world file", "does not hold six numbers", "write it with one number a line"
        ) from error
    if not all(map(math.isfinite, (a, b, c, d, e, f))) or abs(a * e - b * d) < 1e-18:
        raise ModelError("file", "world file", "gives the picture no area", "correct the sizes of its pixels")
    return Affine(a, b, c - (a + b) / 2, d, e, f - (d + e) / 2)


def _north_up(image: Image.Image, transform: Affine) -> tuple[bytes, Extent]:
    """The picture turned upright where it lies askew, as PNG of a bounded size."""
    corners = [transform @ (x, y) for x, y in ((0, 0), (image.width, 0), (0, image.height), image.size)]
    west, east = min(x for x, _ in corners), max(x for x, _ in corners)
    south, north = min(y for _, y in corners), max(y for _, y in corners)
    pixel = math.sqrt(abs(transform.determinant))
    pixel = max(pixel, (east - west) / _LARGEST_SIDE, (north - south) / _LARGEST_SIDE)
    size = max(1, round((east - west) / pixel)), max(1, round((north - south) / pixel))
    upright = Affine((east - west) / size[0], 0, west, 0, -(north - south) / size[1], north)
    back = ~transform @ upright
    turned = image.transform(
        size, Image.Transform.AFFINE, (back.a, back.b, back.c, back.d, back.e, back.f),
        resample=Image.Resampling.BILINEAR, fillcolor=(0, 0, 0, 0),
    )  # fmt: skip
    buffer = io.BytesIO()
    turned.save(buffer, "PNG")
    return buffer.getvalue(), (west, south, east, north)
