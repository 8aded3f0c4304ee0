"""The last edit as the interface asks for it: whose it was is for the browser to know, what it was for us to say."""

from tests.core.searched import tank_project
from tests.web.hands import of, settled


def last(client, project):
    return client.get(f"{of(project)}/last-edit").json()


def test_an_edit_is_told_and_its_leap_once_both_sides_are_computed(client):
    document = tank_project().model_dump(mode="json")
    project = client.post("/api/projects/import", json=document).json()
    assert last(client, project) is None
    settled(client, project)
    option = project["document"]["in_view"]
    network = project["document"]["options"][option]["network"]
    ((roof, _),) = network["catchments"].items()
    base = f"/api/projects/{project['id']}"

    def edited(path, value, now):
        patch = [{"op": "replace", "path": path, "value": value}]
        return client.patch(base, json=patch, headers={"If-Match": f'"{now["revision"]}"'}).json()

    named = edited("/name", "another tank", project)
    settled(client, named)
    told = last(client, named)
    assert (told["revision"], told["told"], told["more"], told["leap"]) == (
        named["revision"], ["the name has changed"], 0, "",
    )  # fmt: skip
    slipped = edited(f"/options/{option}/network/catchments/{roof}/area", 50.0, named)
    settled(client, slipped)
    told = last(client, slipped)
    assert told["told"] == ["roof: area 5000 m² → 50 m²"]
    assert told["leap"].startswith("roof: area 5000 m² → 50 m² moved Outflow")
    back = client.post(f"{base}/undo", headers={"If-Match": f'"{slipped["revision"]}"'}).json()
    assert last(client, back)["leap"] == ""
    client.delete(base)
