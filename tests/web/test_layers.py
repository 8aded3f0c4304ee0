"""Files beside the document and what is asked of a terrain."""

import httpx
import pytest

from tests.exchange import grounds
from tests.web.hands import of
from tests.web.test_api import edit


@pytest.fixture
def project(client, demo_document):
    made = client.post("/api/projects/import", json=demo_document | {"name": "Ground"}).json()
    yield made
    client.delete(f"/api/projects/{made['id']}")


def taken(client, project, *files: tuple[str, bytes]) -> httpx.Response:
    return client.post(f"/api/projects/{project['id']}/layers", files=[("files", file) for file in files])


def test_a_terrain_is_kept_asked_draped_and_copied_with_its_project(client, project):
    base = f"/api/projects/{project['id']}"
    assert client.get(f"{base}/terrain").status_code == 404
    layer = taken(client, project, ("hill.tif", grounds.geotiff())).json()
    edited = edit(client, project, [{"op": "add", "path": "/terrain", "value": layer}])
    assert edited.status_code == 200
    places = [[10.0, 10.0], [1e6, 0.0]]
    level, outside = client.post(f"{base}/terrain/levels", json={"places": places}).json()
    assert level == pytest.approx(grounds.levels(10.0, 10.0), abs=0.002)
    assert outside is None
    assert client.get(f"{base}/terrain/shade.png").content[:4] == b"\x89PNG"
    contours = client.get(f"{base}/terrain/contours").json()
    assert contours["interval"] > 0
    for feature in contours["features"][:20]:
        x, y = feature["geometry"]["coordinates"][0]
        assert grounds.levels(x, y) == pytest.approx(feature["properties"]["level"], abs=0.05)
    network = next(iter(project["document"]["options"].values()))["network"]
    id_, ground = next((k, c) for k, c in network["catchments"].items() if len(c["polygon"]) > 2)
    lie = client.get(f"{of(project)}/terrain/catchments/{id_}").json()
    x, y = ground["polygon"][0]
    assert lie["lowest"] - 0.5 < grounds.levels(x, y) < lie["highest"] + 0.5
    patch = client.get(f"{of(project)}/terrain/drape").json()
    assert {operation["path"].split("/")[-1] for operation in patch} == {"cover", "ground", "ponded_side_slope"}
    twin = client.post(f"{base}/duplicate").json()
    assert client.get(f"/api/projects/{twin['id']}/terrain").status_code == 200
    client.delete(f"/api/projects/{twin['id']}")


def test_a_layer_whose_file_is_elsewhere_is_missing_not_broken(client, project):
    layer = {"name": "lost", "file": "0" * 64}
    edited = edit(client, project, [{"op": "add", "path": "/terrain", "value": layer}]).json()
    base = f"/api/projects/{edited['id']}"
    answer = client.get(f"{base}/terrain")
    assert answer.status_code == 404
    ring = [[0, 0], [20, 0], [20, 20]]
    assert client.post(f"{of(edited)}/outline", json={"ring": ring}).status_code in (200, 422)


@pytest.mark.parametrize(
    ("files", "why"),
    [
        ([("a.exe", b"MZ\x90\x00")], "none of the formats"),
        ([("a.pgw", grounds.world())], "do not hold one"),
        ([("a.png", b"\x89PNG\r\n\x1a\nnothing"), ("a.pgw", grounds.world())], "cannot be read"),
        ([("../../etc/passwd.dxf", b"0\nSECTION\n")], "DXF"),
        ([("a", b"1"), ("b", b"2"), ("c", b"3")], "one file"),
    ],
)
def test_what_cannot_lie_under_a_plan_is_refused_in_words(client, project, files, why):
    answer = taken(client, project, *files)
    assert answer.status_code == 422
    assert why in answer.text


def test_a_path_in_a_files_name_is_only_a_name(client, project):
    layer = taken(client, project, ("..\\..\\windows\\<b>kerbs</b>.dxf", grounds.drawing())).json()
    assert "\\" not in layer["name"]
    assert layer["kind"] == "lines"


def test_coordinate_systems_are_found_by_words_and_only_those_in_metres(client):
    found = client.get("/api/grids", params={"search": "utm 31n wgs"}).json()
    assert any(grid["code"] == "EPSG:32631" for grid in found)
    assert client.get("/api/grids/EPSG:32631").json()["name"] == "WGS 84 / UTM zone 31N"
    for code in ("EPSG:4326", "EPSG:2263", "EPSG:1", "EPSG:x", "32631"):
        assert client.get(f"/api/grids/{code}").status_code in (404, 422)


def test_the_maps_of_the_stand_in_answer_what_services_are_asked(client):
    assert client.get("/demo-map/xyz/3/4/2.png").content[:4] == b"\x89PNG"
    assert client.get("/demo-map/xyz/3/9/2.png").status_code == 422
    query = {"service": "WMS", "request": "GetMap", "bbox": "0,0,300,200", "width": 300, "height": 200}
    assert client.get("/demo-map/wms", params=query).headers["content-type"] == "image/png"
    assert client.get("/demo-map/wms", params=query | {"width": 100_000}).status_code == 422
    assert b"<ows:Identifier>mesh</ows:Identifier>" in client.get("/demo-map/wmts").content


def test_the_ground_round_a_network_comes_from_its_covers_without_a_terrain(client, project):
    network = next(iter(project["document"]["options"].values()))["network"]
    covers = [n["cover"] for n in network["nodes"].values() if n["kind"] != "outfall"]
    found = client.get(f"{of(project)}/ground").json()
    levels = [z for row in found["levels"] for z in row]
    assert min(covers) <= min(levels) < max(levels) <= max(covers)
    for node in network["nodes"].values():
        assert found["west"] < node["x"] < found["west"] + found["cell"] * (len(found["levels"][0]) - 1)
        assert found["south"] < node["y"] < found["south"] + found["cell"] * (len(found["levels"]) - 1)
    blank = client.post("/api/projects", json={"name": "Blank"}).json()
    assert client.get(f"{of(blank)}/ground").json()["levels"] == []
    client.delete(f"/api/projects/{blank['id']}")
