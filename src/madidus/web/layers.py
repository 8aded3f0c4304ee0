"""What lies under the network: files imported as layers, terrain and what is drawn of it, coordinate systems."""

import io
import json
from functools import cache, lru_cache
from typing import Annotated, Any, Literal
from uuid import UUID

import numpy as np
import pyproj
from fastapi import APIRouter, Depends, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from PIL import Image
from pydantic import BaseModel, Field
from pyproj.database import query_crs_info
from pyproj.enums import PJType, WktVersion

from ..core.elements import Basin, Outfall, Store
from ..core.errors import ModelError
from ..core.ground.pond import with_rim_ground
from ..core.ground.terrain import GroundLevel, Lie, Surface, Terrain, between_covers, surface
from ..core.model.layers import Lines, Picture, TerrainLayer
from ..core.model.project import Project
from ..exchange.lines import lines_of_dxf, lines_of_geojson
from ..exchange.raster import pack_terrain, read_picture, read_terrain, unpack_terrain
from ..store.project_store import Missing, ProjectStore, Revision
from .context import Current, Projects, Seen, Shown, option_router, project_router

__all__ = ["grids", "ground_level", "on_the_ground", "router", "terrain_level", "whole_project"]

_WIDENS = 0.1  # change of how a flood widens that is worth an edit

_LARGEST = 128 * 2**20  # bytes
_DRAWN_CELLS = 1200  # along a side of what is drawn of a terrain
_WORLD = (".pgw", ".jgw", ".wld", ".pgwx", ".jgwx", ".tfw")
_Coordinate = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]


class GridOut(BaseModel):
    """A projected system in metres. wkt : its definition. extent : west, south, east, north in degrees."""

    code: str
    name: str
    wkt: str
    extent: tuple[float, float, float, float] | None


class TerrainOut(BaseModel):
    """extent : west, south, east, north. All in m."""

    extent: tuple[float, float, float, float]
    cell: float
    lowest: float
    highest: float


class PlacesIn(BaseModel):
    places: list[tuple[_Coordinate, _Coordinate]] = Field(max_length=100_000)


def grid_of(code: str) -> GridOut:
    """Raises ModelError when it is no projected system in metres."""
    try:
        authority, _, number = code.partition(":")
        crs = pyproj.CRS.from_authority(authority, int(number))
    except (pyproj.exceptions.CRSError, ValueError) as error:
        raise ModelError("project", "grid", f"{code} is not known", "choose one of the list") from error
    if not crs.is_projected or any(axis.unit_name != "metre" for axis in crs.axis_info[:2]):
        raise ModelError("project", "grid", f"{crs.name} is not in plain metres", "choose a projected system in metres")
    area = crs.area_of_use
    return GridOut(code=code, name=crs.name, wkt=crs.to_wkt(WktVersion.WKT1_GDAL), extent=area.bounds if area else None)


@lru_cache(maxsize=1)
def _grids() -> list[tuple[str, str]]:
    infos = query_crs_info(auth_name="EPSG", pj_types=PJType.PROJECTED_CRS)
    return [(f"EPSG:{info.code}", info.name) for info in infos if not info.deprecated]


@lru_cache(maxsize=8)
def _terrain(projects: ProjectStore, project_id: UUID, digest: str) -> Terrain:
    return unpack_terrain(projects.file(project_id, digest))


@lru_cache(maxsize=4)
def _shade(projects: ProjectStore, project_id: UUID, digest: str) -> bytes:
    """Shade as a PNG: ink that grows where light is less than on level ground."""
    light = _terrain(projects, project_id, digest).coarser(_DRAWN_CELLS).shade()
    ink = np.clip((0.75 - light) * 255, 0, 150).astype(np.uint8)
    image = np.zeros((*ink.shape, 4), dtype=np.uint8)
    image[..., :3] = (29, 36, 39)
    image[..., 3] = ink
    buffer = io.BytesIO()
    Image.fromarray(image, "RGBA").save(buffer, "PNG")
    return buffer.getvalue()


def _layer_of(revision: Revision) -> TerrainLayer | None:
    layer = revision.document["terrain"]
    return None if layer is None else TerrainLayer.model_validate(layer)


def _terrain_of(projects: ProjectStore, project_id: UUID, layer: TerrainLayer | None) -> Terrain | None:
    """The project's terrain, where it has one and its file is kept here."""
    if layer is None:
        return None
    try:
        return _terrain(projects, project_id, layer.file)
    except Missing:
        return None


def on_the_ground(projects: ProjectStore, project_id: UUID, project: Project) -> Project:
    """The project with what follows from its terrain: the lowest ground on the rims of its ponds."""
    ponds = (node for option in project.options.values() for node in option.network.nodes.values())
    if project.terrain is None or not any(isinstance(node, Basin) for node in ponds):
        return project
    terrain = _terrain_of(projects, project_id, project.terrain)
    if terrain is None:
        return project
    options = {
        id_: option.model_copy(update={"network": with_rim_ground(option.network, terrain.level)})
        for id_, option in project.options.items()
    }
    return project.model_copy(update={"options": options})


def ground_level(seen: Shown) -> GroundLevel:
    """The ground of a project: its terrain and, where that ends, what the covers of the option tell."""
    covers, terrain = between_covers(seen.network), terrain_level(seen)

    def level(x: float, y: float) -> float | None:
        found = terrain(x, y)
        return covers(x, y) if found is None else found

    return level


def terrain_level(seen: Shown) -> GroundLevel:
    """The ground as the terrain has it; None where that is not known, whatever covers tell."""
    own = seen.revision.project_id
    kept = cache(lambda: _terrain_of(seen.projects, own, _layer_of(seen.revision)))  # read once somebody asks

    def level(x: float, y: float) -> float | None:
        terrain = kept()
        return terrain.level(x, y) if terrain else None

    return level


def _sniffed(name: str, content: bytes) -> Literal["terrain", "picture", "dxf", "geojson"]:
    """What a file is, by what it holds rather than by its name alone."""
    head = content[:4096].lstrip()
    if content[:8] == b"\x89PNG\r\n\x1a\n" or content[:3] == b"\xff\xd8\xff":
        return "picture"
    if content[:2] in (b"II", b"MM"):
        return "terrain"  # or a picture: its bands tell
    if head[:5].lower() in (b"ncols", b"nrows"):
        return "terrain"
    if head[:1] == b"{":
        return "geojson"
    if b"Binary DXF" in content[:32] or name.lower().endswith(".dxf"):
        return "dxf"
    raise ModelError(
        "file", name[:80], "is none of the formats that can lie under a plan",
        "add DXF, GeoJSON, PNG or JPEG with a world file, GeoTIFF or an ASCII grid",
    )  # fmt: skip


def _is_picture(content: bytes) -> bool:
    """A GeoTIFF of three bands or more, or of plain bytes, is a picture; one of levels is a terrain."""
    try:
        with Image.open(io.BytesIO(content), formats=("TIFF",)) as image:
            return image.mode in ("RGB", "RGBA", "P", "L", "CMYK", "YCbCr")
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return False


router, whole_project, grids = option_router(), project_router(), APIRouter(prefix="/api/grids")


def _kept_terrain(revision: Current, projects: Projects) -> tuple[TerrainLayer, Terrain]:
    layer = _layer_of(revision)
    found = _terrain_of(projects, revision.project_id, layer)
    if layer is None or found is None:
        raise Missing("no terrain is kept with this project")
    return layer, found


KeptTerrain = Annotated[tuple[TerrainLayer, Terrain], Depends(_kept_terrain)]


@whole_project.post("/layers")
async def take_layer(revision: Current, projects: Projects, files: list[UploadFile]) -> Picture | Lines | TerrainLayer:
    """Keep a file (with its world file, where it is a plain picture) and say which layer it makes.

    The document does not change: adding the layer is an edit like others.
    """
    if not files or len(files) > 2:
        raise ModelError("file", "files", f"are {len(files)}", "add one file, a picture together with its world file")
    named = {file.filename or "": await file.read(_LARGEST + 1) for file in files}
    if any(len(content) > _LARGEST for content in named.values()):
        raise ModelError("file", "size", f"is larger than {_LARGEST // 2**20} MB", "cut out the ground of the site")
    world = next((content for name, content in named.items() if name.lower().endswith(_WORLD)), None)
    rest = [(name, content) for name, content in named.items() if not name.lower().endswith(_WORLD)]
    if len(rest) != 1:
        raise ModelError("file", "files", "do not hold one drawing, picture or terrain", "add one at a time")
    name, content = rest[0]

    def kept() -> Picture | Lines | TerrainLayer:
        grid = revision.document["grid"]
        keep = lambda content: projects.keep_file(revision.project_id, content)  # noqa: E731
        title = name.replace("\\", "/").rpartition("/")[2][:80] or "layer"
        kind = _sniffed(name, content)
        if kind == "dxf":
            return Lines(name=title, file=keep(lines_of_dxf(content)))
        if kind == "geojson":
            return Lines(name=title, file=keep(lines_of_geojson(content, grid)))
        if kind == "picture" or (content[:2] in (b"II", b"MM") and _is_picture(content)):
            png, extent = read_picture(content, world, grid)
            return Picture(name=title, file=keep(png), extent=extent)
        found = read_terrain(content, grid)
        return TerrainLayer(name=title, file=keep(pack_terrain(found)))

    return await run_in_threadpool(kept)


@whole_project.get("/files/{digest}", response_class=Response)
def kept_file(project_id: UUID, projects: Projects, digest: str) -> Response:
    """A picture or drawing under the plan."""
    content = projects.file(project_id, digest)
    media = "image/png" if content[:4] == b"\x89PNG" else "application/geo+json"
    return Response(content, media_type=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})


@whole_project.get("/terrain")
def about_terrain(terrain: KeptTerrain) -> TerrainOut:
    """Where the terrain lies, and between which levels."""
    _, found = terrain
    low, high = float(np.nanmin(found.levels)), float(np.nanmax(found.levels))
    return TerrainOut(extent=found.extent, cell=found.cell, lowest=low, highest=high)


@router.get("/ground")
def ground(seen: Seen) -> Surface:
    """The ground round the network: its terrain, or what the covers tell, in meshes."""
    return surface(seen.network, ground_level(seen))


@whole_project.get("/terrain/contours", response_class=Response)
def contours(terrain: KeptTerrain) -> Response:
    """Contours as GeoJSON in the project's grid; every fifth is marked as an index contour."""
    layer, found = terrain
    step, lines = found.coarser(_DRAWN_CELLS).contours(layer.interval)
    features = [
        {
            "type": "Feature",
            "properties": {"level": round(level, 3), "index": round(level / step) % 5 == 0},
            "geometry": {"type": "LineString", "coordinates": np.round(points, 2).tolist()},
        }
        for level, points in lines
    ]
    body = {"type": "FeatureCollection", "interval": step, "features": features}
    return Response(json.dumps(body, separators=(",", ":")), media_type="application/geo+json")


@whole_project.get("/terrain/shade.png", response_class=Response)
def shade(terrain: KeptTerrain, revision: Current, projects: Projects) -> Response:
    """Shade with light from the north-west."""
    layer, _ = terrain
    return Response(_shade(projects, revision.project_id, layer.file), media_type="image/png")


@whole_project.post("/terrain/levels")
def levels(terrain: KeptTerrain, given: PlacesIn) -> list[float | None]:
    """Level of the ground at places, m; null where the terrain does not know it."""
    _, found = terrain
    return [None if (z := found.level(x, y)) is None else round(z, 3) for x, y in given.places]


@router.get("/terrain/drape")
def drape(seen: Seen, terrain: KeptTerrain) -> list[dict[str, Any]]:
    """The edit, relative to the network, that puts covers and grounds of outfalls on the terrain, and lets floods
    at manholes widen as the ground lies there.
    """
    _, found = terrain
    patch = []
    for id_, node in seen.network.nodes.items():
        level = found.level(node.x, node.y)
        field = "ground" if isinstance(node, Outfall) else "cover"
        if level is not None and round(level, 3) > node.invert and round(level, 3) != getattr(node, field):
            patch.append({"op": "replace", "path": f"/nodes/{id_}/{field}", "value": round(level, 3)})
        if isinstance(node, Outfall | Store) or node.flooding == "lost":
            continue
        cone = found.cone(node.x, node.y, node.ponded_area)
        if cone is not None and abs(cone - node.ponded_side_slope) > _WIDENS * max(node.ponded_side_slope, 1.0):
            patch.append({"op": "replace", "path": f"/nodes/{id_}/ponded_side_slope", "value": round(cone)})
    return patch


@router.get("/terrain/catchments/{catchment}")
def lie_of(seen: Seen, terrain: KeptTerrain, catchment: UUID) -> Lie | None:
    """How the ground lies within a catchment's outline; null where the terrain does not reach it."""
    _, found = terrain
    polygon = seen.catchment(catchment).polygon
    return found.under(polygon) if len(polygon) > 2 else None


@grids.get("")
def search_grids(search: Annotated[str, Query(max_length=80)] = "") -> list[GridOut]:
    """Projected coordinate systems in metres whose name or code holds all words of `search`; the first forty."""
    words = search.casefold().split()
    found = []
    for code, name in _grids():
        if words and all(word in f"{code} {name}".casefold() for word in words):
            try:
                found.append(grid_of(code))
            except ModelError:
                continue  # in feet or degrees
        if len(found) >= 40:
            break
    return found


@grids.get("/{code}")
def one_grid(code: str) -> GridOut:
    """A coordinate system by its code, such as EPSG:32631."""
    return grid_of(code)
