"""Made-up grounds, pictures and drawings in the formats that people bring."""

import io

import ezdxf
import numpy as np
import rasterio
from PIL import Image
from rasterio.transform import Affine

WEST, SOUTH, CELL = -40.0, -40.0, 2.0
ROWS, COLUMNS = 140, 200


def levels(x, y):
    """A hillside that falls to the west, with a hollow along it; m."""
    return 3.0 + 0.016 * (x + 20.0) + 0.6 * np.sin(y / 60.0)


def grid_of_levels() -> np.ndarray:
    x = WEST + (np.arange(COLUMNS) + 0.5) * CELL
    y = SOUTH + (ROWS - np.arange(ROWS) - 0.5) * CELL
    return levels(x[None, :], y[:, None]).astype(np.float32)


def geotiff(values: np.ndarray | None = None, crs: str | None = None, transform: Affine | None = None) -> bytes:
    values = grid_of_levels() if values is None else values
    bands = values if values.ndim == 3 else values[None]
    place = transform or Affine(CELL, 0, WEST, 0, -CELL, SOUTH + ROWS * CELL)
    with rasterio.MemoryFile() as memory:
        with memory.open(
            driver="GTiff", width=bands.shape[2], height=bands.shape[1], count=bands.shape[0], dtype=bands.dtype,
            transform=place, crs=crs, nodata=-9999 if bands.dtype == np.float32 else None,
            photometric="RGB" if bands.shape[0] == 3 else None,
        ) as dataset:  # fmt: skip
            dataset.write(bands)
        return memory.read()


def ascii_grid() -> bytes:
    rows = "\n".join(" ".join(f"{z:.3f}" for z in row) for row in grid_of_levels())
    head = f"ncols {COLUMNS}\nnrows {ROWS}\nxllcorner {WEST}\nyllcorner {SOUTH}\ncellsize {CELL}\nNODATA_value -9999\n"
    return (head + rows).encode()


def picture(width: int = 60, height: int = 40) -> bytes:
    image = Image.new("RGB", (width, height), (200, 190, 160))
    image.paste((30, 90, 120), (0, 0, width // 2, height // 2))  # the north-western quarter is water
    buffer = io.BytesIO()
    image.save(buffer, "PNG")
    return buffer.getvalue()


def world(pixel: float = 5.0, west: float = 0.0, north: float = 200.0) -> bytes:
    return f"{pixel}\n0\n0\n-{pixel}\n{west + pixel / 2}\n{north - pixel / 2}\n".encode()


def drawing(unit: int = 6, scale: float = 1.0) -> bytes:
    """Kerbs, a round island, a word and two blocks with attributes joined by a polyline."""
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = unit
    cover = document.blocks.new("COVER")
    cover.add_circle((0, 0), 0.6 * scale)
    cover.add_attdef("NAME", (0, 0), dxfattribs={"height": 1.0})
    space = document.modelspace()

    def at(x: float, y: float, z: float = 0.0) -> tuple[float, float, float]:
        return x * scale, y * scale, z * scale

    space.add_line(at(0, 0), at(100, 0), dxfattribs={"layer": "KERB"})
    space.add_lwpolyline([at(0, 10)[:2], at(60, 10)[:2], at(60, 40)[:2]], dxfattribs={"layer": "KERB"})
    space.add_circle(at(30, 30), 8 * scale, dxfattribs={"layer": "ISLAND"})
    space.add_text("Market", dxfattribs={"layer": "WORDS", "insert": at(20, 50)})
    for name, x, z in (("M1", 10, 12.0), ("M2", 50, 11.5)):
        block = space.add_blockref("COVER", at(x, 20, z), dxfattribs={"layer": "DRAIN"})
        block.add_attrib("NAME", name, at(x, 20))
    space.add_polyline3d([at(10, 20, 10.4), at(30, 22, 10.2), at(50, 20, 10.0)], dxfattribs={"layer": "DRAIN"})
    space.add_hatch(dxfattribs={"layer": "ISLAND"})
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()
