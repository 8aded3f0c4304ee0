"""The wheel by itself: in an empty environment, outside the checkout."""

import json
import os
import re
import shutil
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import httpx
import pytest

from madidus import places
from madidus.postgres import free_port

ROOT = Path(__file__).parents[1]
UV = Path(sys.executable).with_name("uv")


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    """Built from a copy: a build leaves files beside the sources."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"
    for part in ("src", "demo", "requirements"):
        shutil.copytree(ROOT / part, source / part, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copytree(ROOT / "ui" / "dist", source / "ui" / "dist")
    for name in ("pyproject.toml", "setup.py", "LICENSE"):
        shutil.copy(ROOT / name, source)
    command = [
        UV,
        "build",
        "--wheel",
        "--offline",
        "--no-build-isolation",
        "-q",
        "-o",
        folder,
        "--python",
        sys.executable,
    ]
    subprocess.run([*command, source], check=True, capture_output=True)
    return next(folder.glob("*.whl"))


@pytest.fixture(scope="module")
def program(wheel, tmp_path_factory):
    """`madidus` in an environment that has nothing else, but what it declares to need.

    Packages come from where ./test has put them, by the lock: that there is nothing to resolve works in a fresh cache.
    """
    venv = tmp_path_factory.mktemp("empty") / "venv"
    subprocess.run([UV, "venv", "-q", venv, "--python", sys.executable], check=True)
    environment = {**os.environ, "VIRTUAL_ENV": str(venv)}
    lock = ROOT / "requirements" / "app.lock"
    for command in (["sync", "-q", "--offline", lock], ["install", "-q", "--offline", "--no-deps", wheel], ["check"]):
        subprocess.run([UV, "pip", *command], check=True, env=environment)
    return venv / "bin" / "madidus"


@pytest.fixture
def elsewhere(open_folder):
    """An environment of variables in which nothing leads to the checkout."""
    kept = {key: value for key, value in os.environ.items() if not key.startswith(("MADIDUS", "PYTHON", "NUMBA"))}
    return {
        **kept,
        "HOME": str(open_folder),
        "XDG_DATA_HOME": str(open_folder / "data"),
        "XDG_CACHE_HOME": str(open_folder / "cache"),
    }


def test_the_wheel_declares_what_it_needs_and_carries_what_it_shows(wheel):
    with zipfile.ZipFile(wheel) as content:
        names = content.namelist()
        about = content.read(next(name for name in names if name.endswith("METADATA"))).decode()
    needed = {line.split("==")[0].lower() for line in (ROOT / "requirements" / "app.in").read_text().splitlines()}
    declared = {
        re.split(r"[=\[;]", line.split(": ")[1])[0].lower()
        for line in about.splitlines()
        if line.startswith("Requires-Dist")
    }
    assert declared >= {name.split("[")[0] for name in needed}
    assert "License-Expression: LicenseRef-Proprietary" in about
    for carried in ("py.typed", "interface/index.html", "store/migrations/versions/0004_issues.py", "report/report.typ",
                    *(f"demo/{file.name}" for file in places.demos())):  # fmt: skip
        assert f"madidus/{carried}" in names
    assert any(name.startswith("madidus/interface/assets/") and name.endswith(".js") for name in names)


def test_it_computes_a_project_file(program, elsewhere, tmp_path, demo_document):
    document = json.loads(json.dumps(demo_document))
    option = document["options"][document["in_view"]]
    link = next(link for link in option["network"]["links"].values() if link["name"] == "L2–O1")
    ends = (link["upstream"], link["downstream"])
    option["network"].update(
        nodes={id_: node for id_, node in option["network"]["nodes"].items() if id_ in ends},
        links={"11111111-1111-4111-8111-111111111111": link}, catchments={},
    )  # fmt: skip
    document["brief"]["rules"] = [{"kind": "cover", "name": "dry", "limits": [{"return_period": 2}]}]
    document["rain"]["ensemble"].update(durations=[15], probabilities=[{"return_period": 2}])
    document["accepted"] = []
    (tmp_path / "p.madidus.json").write_text(json.dumps(document), encoding="utf-8")
    # so small that it is not worth compiling the solver
    ran = subprocess.run(
        [program, "run", "p.madidus.json", "--out", "out"], cwd=tmp_path, capture_output=True, text=True,
        env={**elsewhere, "NUMBA_DISABLE_JIT": "1"},
    )  # fmt: skip
    assert ran.returncode == 0, ran.stdout + ran.stderr
    assert json.loads((tmp_path / "out" / "summary.json").read_text())["overall"] == "the rule is met"


def test_it_serves_its_interface_and_finds_its_demos(program, elsewhere, open_folder):
    port = free_port()
    # without its demos: an empty machine would compile the solver for them, which takes a minute
    command = [program, "serve", "--port", str(port), "--no-demo"]
    with subprocess.Popen(
        command, cwd=open_folder, env=elsewhere, stdout=subprocess.PIPE, stderr=subprocess.PIPE
    ) as server:
        try:
            deadline = time.monotonic() + 180
            while True:
                assert server.poll() is None, server.stderr.read().decode()
                try:
                    listed = httpx.get(f"http://127.0.0.1:{port}/api/projects", timeout=10).json()
                    break
                except httpx.ConnectError:
                    assert time.monotonic() < deadline
                    time.sleep(0.2)
            assert listed == {"whole": 0, "projects": []}
            made = httpx.post(f"http://127.0.0.1:{port}/api/projects", json={"name": "First"})
            assert made.status_code == 201
            page = httpx.get(f"http://127.0.0.1:{port}/").text
            script = re.search(r'src="(/assets/[^"]+\.js)"', page)[1]
            assert httpx.get(f"http://127.0.0.1:{port}{script}").status_code == 200
        finally:
            server.terminate()
            server.communicate(timeout=60)
    assert (open_folder / "data" / "madidus" / "postgresql").is_dir()  # and nothing beside the program
    say = "from madidus import places; print(len(places.demos()), places.kernels())"
    told = subprocess.run(
        [program.with_name("python"), "-c", say], env=elsewhere, capture_output=True, text=True, check=True
    )
    assert told.stdout.startswith(f"3 {open_folder / 'cache' / 'madidus' / 'kernels'}")
