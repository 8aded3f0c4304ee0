"""Reports over the API: made page by page, stopped, taken, issued, held against the project."""

import copy
import hashlib
import io
import json
import time
import uuid
import zipfile

import pypdf
import pypdfium2
from PIL import Image
from sqlalchemy import text

from madidus.report.issued import read_issue
from tests.web.hands import looked_at, of, settled
from tests.web.test_api import edit


def made(client, project, **body):
    """A report once it is made."""
    answer = client.post(f"{of(project)}/reports", json=body)
    assert answer.status_code == 202, answer.text
    report = answer.json()
    for _ in range(1800):
        if report["state"] != "running":
            return report
        time.sleep(0.05)
        report = client.get(f"{of(project)}/reports/{report['id']}").json()
    raise AssertionError("the report does not end")


def changed(client, project, *changes):
    """The project after edits of what is only looked at."""
    answer = edit(client, project, list(changes))
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_pages_are_those_of_the_file_and_parts_say_where_they_stand(client, project):
    looked_at(client, project)
    report = made(client, project)
    assert report["state"] == "done"
    content = client.get(f"{of(project)}/files/report.pdf").content
    pdf = pypdf.PdfReader(io.BytesIO(content))
    assert len(report["sizes"]) == len(pdf.pages)
    parts = {one["part"]: one for one in report["parts"]}
    layout = project["document"]["layouts"][0]
    assert set(parts) == {k for k, part in enumerate(layout["parts"]) if part["on"]}
    plan = next(k for k, part in enumerate(layout["parts"]) if part["kind"] == "plan")
    assert report["sizes"][parts[plan]["first"]] == [420.0, 297.0] or report["sizes"][parts[plan]["first"]][0] > 419
    wide = client.get(f"{of(project)}/reports/{report['id']}/pages/0.png", params={"wide": 300})
    assert Image.open(io.BytesIO(wide.content)).width == 300
    assert client.get(f"{of(project)}/reports/{report['id']}/pages/999.png").status_code == 404
    assert client.get(f"{of(project)}/reports/{uuid.uuid4()}").status_code == 404
    again = made(client, project)
    assert again["id"] == report["id"]  # nothing has changed: it is the same
    svg = client.get(f"{of(project)}/sheets/{plan}/0.svg")
    assert svg.text.startswith("<svg")
    assert client.get(f"{of(project)}/sheets/{plan}/9.svg").status_code == 404
    assert client.get(f"{of(project)}/sheets/0/0.svg").status_code == 404


def test_a_layout_is_chosen_by_name_and_changed_by_edits(client, project):
    settled(client, project)
    long = made(client, project, layout="Approval")
    short = made(client, project, layout="Short note")
    assert len(short["sizes"]) < len(long["sizes"])
    assert client.post(f"{of(project)}/reports", json={"layout": "none"}).status_code == 404
    without = changed(client, project, {"op": "replace", "path": "/layouts/0/parts/4/on", "value": False})
    assert without["fingerprint"] == project["fingerprint"]
    less = made(client, without, layout="Approval")
    assert len(less["sizes"]) < len(long["sizes"])
    assert 4 not in [one["part"] for one in less["parts"]]
    headed = changed(client, without, {"op": "replace", "path": "/layouts/0/parts/1/heading", "value": "What is asked"})
    titles = pypdf.PdfReader(io.BytesIO(client.get(f"{of(headed)}/files/report.pdf").content)).outline
    assert "What is asked" in [mark.title for mark in titles if not isinstance(mark, list)]
    refused = edit(client, headed, [{"op": "replace", "path": "/layouts/0/parts/10/drawing/scale", "value": 3}])
    assert refused.status_code == 422


def test_a_report_that_is_no_longer_wanted_stops(client, demo_document):
    document = copy.deepcopy(demo_document) | {"name": f"Stops {uuid.uuid4().hex[:6]}"}
    project = client.post("/api/projects/import", json=document).json()
    settled(client, project)
    begun = client.post(f"{of(project)}/reports", json={}).json()
    stopped = client.delete(f"{of(project)}/reports/{begun['id']}")
    assert stopped.status_code == 200
    for _ in range(1800):
        told = client.get(f"{of(project)}/reports/{begun['id']}").json()
        if told["state"] != "running":
            break
        time.sleep(0.05)
    assert told["state"] == "stopped"
    assert made(client, project)["state"] == "done"
    client.delete(f"/api/projects/{project['id']}")


def test_an_issued_report_stays_whatever_changes(client, project):
    settled(client, project)
    issued = client.post(f"{of(project)}/issues", json={"number": "P1"})
    assert issued.status_code == 201, issued.text
    base = f"/api/projects/{project['id']}"
    (row,) = client.get(f"{base}/issues").json()
    first = client.get(f"{base}/issues/{row['id']}/report.pdf").content
    assert "issue P1" in pypdfium2.PdfDocument(first)[0].get_textpage().get_text_range()
    twice = client.post(f"{of(project)}/issues", json={"number": "P1"})
    assert twice.status_code == 422
    assert "already given" in twice.json()["title"]
    told = client.post(f"{base}/verify", content=first).json()
    assert (told["said"], told["remarks"]) == ("It is issue P1, byte for byte.", [])
    assert client.post(f"{base}/verify", content=first + b"\n").json()["state"] == "differs"
    nothing = client.get(f"{of(project)}/issues/{row['id']}/changes").json()
    assert nothing == {"elements": [], "verdicts": []}

    network = project["document"]["options"][project["document"]["in_view"]]["network"]
    id_ = next(key for key, link in network["links"].items() if link["name"] == "P1 orifice")
    path = f"/options/{project['document']['in_view']}/network/links/{id_}/section/diameter"
    later = changed(client, project, {"op": "replace", "path": path, "value": 0.15})
    settled(client, later)
    assert client.get(f"{base}/issues/{row['id']}/report.pdf").content == first
    (row,) = client.get(f"{base}/issues").json()
    assert not row["stands"]
    assert row["fingerprint"] == project["fingerprint"]
    told = client.post(f"{base}/verify", content=first).json()
    assert told["state"] == "superseded"
    changes = client.get(f"{of(later)}/issues/{row['id']}/changes").json()
    assert ["orifice P1 orifice", "section.diameter", "0.08", "0.15"] in changes["elements"]
    assert any("Outflow" in verdict["rule"] for verdict in changes["verdicts"])
    issue = read_issue(client.get(f"{base}/issues/{row['id']}/issue.json").content, "P1")
    assert issue.document == project["document"]
    assert issue.sha256 == hashlib.sha256(first).hexdigest()
    assert issue.storms
    k = next(k for k, part in enumerate(later["document"]["layouts"][0]["parts"]) if part["kind"] == "changes")
    listed = changed(client, later, {"op": "replace", "path": f"/layouts/0/parts/{k}/on", "value": True})
    text = " ".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(
        client.get(f"{of(listed)}/files/report.pdf").content)).pages)  # fmt: skip
    assert "Since issue P1" in text
    assert "orifice P1 orifice" in text
    assert client.get(f"{base}/issues/{row['id'] + 1}/report.pdf").status_code == 404
    assert client.get(f"{base}/issues/P1/report.pdf").status_code == 422


def test_an_issue_under_any_printable_number_is_brought_out_again(client, project):
    settled(client, project)
    base = f"/api/projects/{project['id']}"
    numbers = ["2026/014", ".", "../x", "2026.014"]
    for number in numbers:
        assert client.post(f"{of(project)}/issues", json={"number": number}).status_code == 201
    assert client.post(f"{of(project)}/issues", json={"number": "a\nb"}).status_code == 422
    rows = client.get(f"{base}/issues").json()
    assert [row["number"] for row in rows] == numbers[::-1]
    names = set()
    for row in rows:
        again = client.get(f"{base}/issues/{row['id']}/report.pdf")
        assert again.headers["content-type"] == "application/pdf"
        names.add(again.headers["content-disposition"])
        said = client.post(f"{base}/verify", content=again.content).json()
        assert said["said"] == f"It is issue {row['number']}, byte for byte."
    assert len(names) == len(numbers)


def test_what_is_no_report_is_told_so(client, project):
    base = f"/api/projects/{project['id']}"
    for content, why in ((b"no pdf", "no PDF"), (_blank(), "no fingerprint")):
        told = client.post(f"{base}/verify", content=content)
        assert told.status_code == 422
        assert why in told.json()["title"]


def _blank() -> bytes:
    writer = pypdf.PdfWriter()
    writer.add_blank_page(200, 200)
    stream = io.BytesIO()
    writer.write(stream)
    return stream.getvalue()


def test_files_are_listed_taken_and_put_together(client, project):
    settled(client, project)
    listed = {one["name"]: one for one in client.get(f"{of(project)}/files").json()}
    for name, one in listed.items():
        answer = client.get(f"{of(project)}/files/{name}")
        assert answer.status_code == (422 if one["grid"] else 200), name
        if not one["grid"]:
            assert answer.headers["content-disposition"].endswith(f'.{name}"')
    asked = {"name": ["report.pdf", "madidus.json", "results.geojson"]}
    archive = zipfile.ZipFile(io.BytesIO(client.get(f"{of(project)}/everything.zip", params=asked).content))
    manifest = json.loads(archive.read("manifest.json"))
    assert manifest["inputs"] == project["fingerprint"]
    assert len(manifest["files"]) == 3
    assert client.get(f"{of(project)}/everything.zip", params={"name": ["/etc/passwd"]}).status_code == 404
    assert client.get(f"{of(project)}/files/nothing.pdf").status_code == 404
    blank = client.post("/api/projects", json={"name": "Nothing to run"}).json()
    inputs = client.get(f"{of(blank)}/everything.zip", params={"name": ["madidus.json", "network.xml"]})
    assert len(json.loads(zipfile.ZipFile(io.BytesIO(inputs.content)).read("manifest.json"))["files"]) == 2
    assert client.get(f"{of(blank)}/everything.zip", params={"name": ["report.pdf"]}).status_code == 422
    client.delete(f"/api/projects/{blank['id']}")


def test_a_logo_is_kept_and_drawn(client, project):
    settled(client, project)
    base = f"/api/projects/{project['id']}"
    buffer = io.BytesIO()
    Image.new("RGB", (60, 20), "navy").save(buffer, "PNG")
    assert client.post(f"{base}/pictures", content=b"<svg onload='x'/>").status_code == 422
    digest = client.post(f"{base}/pictures", content=buffer.getvalue()).json()
    before = pypdf.PdfReader(io.BytesIO(client.get(f"{of(project)}/files/report.pdf").content)).pages[0]
    with_it = changed(client, project, {"op": "replace", "path": "/title/logo", "value": digest})
    after = pypdf.PdfReader(io.BytesIO(client.get(f"{of(with_it)}/files/report.pdf").content)).pages[0]
    assert not _images(before)
    assert _images(after)
    missing = changed(client, with_it, {"op": "replace", "path": "/title/logo", "value": "0" * 64})
    assert client.get(f"{of(missing)}/files/report.pdf").status_code in (404, 422)


def _images(page) -> list:
    """Pictures on a page, those in drawings too."""
    found, waiting = [], [page["/Resources"]]
    while waiting:
        for one in waiting.pop().get("/XObject", {}).values():
            own = one.get_object()
            if own["/Subtype"] == "/Image":
                found.append(own)
            elif "/Resources" in own:
                waiting.append(own["/Resources"])
    return found


def test_a_composed_sheet_is_handed_out_as_svg_and_pdf(client, project):
    settled(client, project)
    sheet = {"name": "mine", "paper": "A4", "wide": False, "items": [
        {"x": 10, "y": 10, "wide": 100, "high": 80, "shows": "plan"}]}  # fmt: skip
    with_it = changed(client, project, {"op": "add", "path": "/sheets/-", "value": sheet})
    assert client.get(f"{of(with_it)}/composed/0.svg").text.startswith("<svg")
    pdf = pypdf.PdfReader(io.BytesIO(client.get(f"{of(with_it)}/composed/0.pdf").content))
    assert [round(float(side) * 25.4 / 72) for side in pdf.pages[0].mediabox[2:]] == [210, 297]
    assert client.get(f"{of(with_it)}/composed/1.svg").status_code == 404
    assert client.get(f"{of(with_it)}/composed/0.exe").status_code in (404, 422)


def test_a_project_that_an_older_program_kept_has_layouts(client, engine, project):
    with engine.begin() as connection:
        connection.execute(
            text("UPDATE revision SET document = document - 'layouts' - 'title' - 'sheets' WHERE project_id = :id"),
            {"id": project["id"]},
        )
    document = client.get(f"/api/projects/{project['id']}").json()["document"]
    assert [one["name"] for one in document["layouts"]] == ["Approval", "Short note", "Appendix of tables"]
    assert document["sheets"] == []
    settled(client, project)
    assert client.get(f"{of(project)}/files/report.pdf").status_code == 200


def test_inputs_of_one_state_never_go_with_results_of_another(client, project):
    settled(client, project)
    first = client.get(f"{of(project)}/files/report.pdf").content
    network = project["document"]["options"][project["document"]["in_view"]]["network"]
    id_ = next(key for key, link in network["links"].items() if link["name"] == "P1 orifice")
    path = f"/options/{project['document']['in_view']}/network/links/{id_}/section/diameter"
    value = 0.11 + time.time() % 1e-2  # nobody has computed this one
    later = changed(client, project, {"op": "replace", "path": path, "value": value})
    at_once = client.get(f"{of(later)}/files/report.pdf")
    assert at_once.status_code == 409 or at_once.content != first
    marked = client.get(f"{of(later)}/files/report.pdf", params={"incomplete": True}).content
    base = f"/api/projects/{project['id']}"
    assert client.post(f"{base}/verify", content=marked).json()["state"] == "not proven"
    assert client.post(f"{base}/verify", content=first).json()["state"] == "foreign"
    settled(client, later)
    whole = client.get(f"{of(later)}/files/report.pdf").content
    verdicts = pypdfium2.PdfDocument(whole)[1].get_textpage().get_text_range()
    answer = client.get(f"{of(later)}/answer").json()
    outflow = next(v for v in answer["verdicts"] if v["kind"] == "outflow")
    assert f"{outflow['value'] * 1000:+.3f} L/s" in verdicts
