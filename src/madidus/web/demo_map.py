"""A made-up map served as XYZ tiles, WMS and WMTS, so that map layers can be tried without any network.

It shows a mesh of its own coordinates: whoever lays it under a plan sees at once whether places agree.
"""

import io
import math
from xml.sax.saxutils import escape

from fastapi import APIRouter, Request, Response
from PIL import Image, ImageDraw

from ..core.errors import ModelError

__all__ = ["router"]

_HALF = 20_037_508.342789244  # m, half the side of the square of Web Mercator
_TILE = 256
_LARGEST = 2048
_PAPER, _LINE, _WATER, _INK = (236, 230, 215), (163, 154, 134), (179, 213, 208), (101, 102, 95)


def _mesh(west: float, south: float, east: float, north: float, width: int, height: int) -> Response:
    """A picture of the mesh between four coordinates, a river along every tenth northing."""
    image = Image.new("RGB", (width, height), _PAPER)
    draw = ImageDraw.Draw(image)
    step = 10.0 ** math.floor(math.log10(max(east - west, north - south, 1e-6)))

    def column(x: float) -> float:
        return (x - west) / (east - west) * width

    def row(y: float) -> float:
        return (north - y) / (north - south) * height

    for k in range(math.floor(south / step), math.ceil(north / step) + 1):
        if k % 10 == 0:
            draw.rectangle([0, row(k * step + 0.15 * step), width, row(k * step - 0.15 * step)], fill=_WATER)
        draw.line([0, row(k * step), width, row(k * step)], fill=_LINE)
    for k in range(math.floor(west / step), math.ceil(east / step) + 1):
        draw.line([column(k * step), 0, column(k * step), height], fill=_LINE)
        for m in range(math.floor(south / step), math.ceil(north / step) + 1):
            draw.text((column(k * step) + 3, row(m * step) - 12), f"{k * step:g} {m * step:g}", fill=_INK)
    buffer = io.BytesIO()
    image.save(buffer, "PNG")
    return Response(buffer.getvalue(), media_type="image/png", headers={"Access-Control-Allow-Origin": "*"})


def _tile(z: int, x: int, y: int) -> Response:
    if not (0 <= z <= 24 and 0 <= x < 2**z and 0 <= y < 2**z):
        raise ModelError("map", "tile", "is outside the map", "ask for one within its zoom level")
    side = 2.0 * _HALF / 2**z
    west, north = -_HALF + x * side, _HALF - y * side
    return _mesh(west, north - side, west + side, north, _TILE, _TILE)


def _capabilities(base: str) -> str:
    """WMTS 1.0.0 capabilities of one layer in the common Web Mercator matrix."""
    matrices = "".join(
        f"<TileMatrix><ows:Identifier>{z}</ows:Identifier>"
        f"<ScaleDenominator>{2 * _HALF / _TILE / 2**z / 0.00028}</ScaleDenominator>"
        f"<TopLeftCorner>{-_HALF} {_HALF}</TopLeftCorner><TileWidth>{_TILE}</TileWidth><TileHeight>{_TILE}</TileHeight>"
        f"<MatrixWidth>{2**z}</MatrixWidth><MatrixHeight>{2**z}</MatrixHeight></TileMatrix>"
        for z in range(23)
    )
    template = escape(f"{base}/wmts/{{TileMatrix}}/{{TileRow}}/{{TileCol}}.png", {'"': "&quot;"})
    return (
        '<?xml version="1.0" encoding="UTF-8"?><Capabilities xmlns="http://www.opengis.net/wmts/1.0" '
        'xmlns:ows="http://www.opengis.net/ows/1.1" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.0.0">'
        "<ows:ServiceIdentification><ows:Title>Mesh</ows:Title><ows:ServiceType>OGC WMTS</ows:ServiceType>"
        "<ows:ServiceTypeVersion>1.0.0</ows:ServiceTypeVersion></ows:ServiceIdentification><Contents><Layer>"
        "<ows:Title>Mesh of coordinates</ows:Title><ows:Identifier>mesh</ows:Identifier>"
        "<Style isDefault='true'><ows:Identifier>plain</ows:Identifier></Style><Format>image/png</Format>"
        "<TileMatrixSetLink><TileMatrixSet>mercator</TileMatrixSet></TileMatrixSetLink>"
        f'<ResourceURL format="image/png" resourceType="tile" template="{template}"/></Layer>'
        "<TileMatrixSet><ows:Identifier>mercator</ows:Identifier>"
        f"<ows:SupportedCRS>urn:ogc:def:crs:EPSG::3857</ows:SupportedCRS>{matrices}</TileMatrixSet>"
        "</Contents></Capabilities>"
    )


router = APIRouter(prefix="/demo-map", include_in_schema=False)


@router.get("/xyz/{z}/{x}/{y}.png")
def xyz(z: int, x: int, y: int) -> Response:
    return _tile(z, x, y)


@router.get("/wmts/{z}/{row}/{column}.png")
def wmts_tile(z: int, row: int, column: int) -> Response:
    return _tile(z, column, row)


@router.get("/wmts")
def wmts(request: Request) -> Response:
    return Response(_capabilities(f"{request.base_url}demo-map"), media_type="application/xml")


@router.get("/wms")
def wms(request: Request) -> Response:
    """GetMap of WMS 1.3.0 in any system whose first axis is east."""
    asked = {key.upper(): value for key, value in request.query_params.items()}
    try:
        west, south, east, north = (float(v) for v in asked["BBOX"].split(","))
        width, height = int(asked["WIDTH"]), int(asked["HEIGHT"])
    except (KeyError, ValueError) as error:
        raise ModelError("map", "GetMap", "lacks BBOX, WIDTH or HEIGHT", "ask as WMS 1.3.0 does") from error
    if not (0 < width <= _LARGEST and 0 < height <= _LARGEST and east > west and north > south):
        raise ModelError("map", "GetMap", "asks for no picture or one too large", f"ask for up to {_LARGEST} pixels")
    return _mesh(west, south, east, north, width, height)
