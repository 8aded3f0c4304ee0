"""CONTRIBUTING, followed: a new control is its module, a line in the union, its form, and `tools/generate`."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
TEMPLATE = Path(__file__).parent / "contributing"
KEPT = ("src", "pyproject.toml", "tools", "ui/src", "ui/package.json", "ui/tsconfig.json", "ui/biome.json")

BEHAVES = """
import json
from madidus.core.edit import draw_link, draw_node
from madidus.core.hydraulics.rating_curve import rating_curve
from madidus.core.model.network import Network
from madidus.core.search.variables import changeable
from madidus.exchange.geojson import read_geojson, write_geojson

network, tank = draw_node(Network(), "tank", 0.0, 0.0)
network, outfall = draw_node(network, "outfall", 40.0, 0.0)
network, id_ = draw_link(network, "flume", tank, outfall)
curve = rating_curve(network, id_)
written = json.loads(write_geojson(network, "one"))
read = read_geojson(json.dumps(written).encode())
print(json.dumps({
    "name": network.links[id_].name, "head": curve.head, "flow": curve.flow,
    "changes": [one.word for one in changeable(network, id_)],
    "schedule": network.links[id_].schedule_entry().size,
    "read": [fields["width"] for fields in read.links.values()],
}))
"""


@pytest.fixture(scope="module")
def house(tmp_path_factory):
    """A copy of the sources with a kind of control that they do not know, added as CONTRIBUTING says."""
    house = tmp_path_factory.mktemp("house")
    for path in KEPT:
        source, to = ROOT / path, house / path
        if source.is_dir():
            shutil.copytree(source, to, ignore=shutil.ignore_patterns("__pycache__"))
        else:
            to.parent.mkdir(exist_ok=True)
            shutil.copy2(source, to)
    (house / "docs").mkdir()
    (house / "ui" / "node_modules").symlink_to(ROOT / "ui" / "node_modules")
    elements = house / "src" / "madidus" / "core" / "elements"
    shutil.copy(TEMPLATE / "flume.py", elements)
    shutil.copy(TEMPLATE / "flume.tsx", house / "ui" / "src" / "kinds" / "controls")
    union = elements / "__init__.py"
    said = union.read_text(encoding="utf-8")
    line = next(line for line in said.splitlines() if line.startswith("Control = "))
    told = said.replace(line, f"{line} | Flume").replace(
        "from .gate import", "from .flume import Flume\nfrom .gate import"
    )
    union.write_text(told.replace('    "FlowCurve",\n', '    "FlowCurve",\n    "Flume",\n'), encoding="utf-8")
    run(house, sys.executable, "-m", "tools.generated")
    return house


def run(house: Path, *command: str, within: str = ".") -> str:
    """What a command says that succeeds in the copy. Laws are read, not compiled."""
    environment = os.environ | {"PYTHONPATH": f"{house / 'src'}:{house}", "NUMBA_DISABLE_JIT": "1"}
    done = subprocess.run(command, cwd=house / within, env=environment, capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_types_of_both_sides_hold(house):
    cache = ROOT / ".mypy_cache"
    if cache.exists():  # else it takes half a minute more
        shutil.copytree(cache, house / ".mypy_cache")
    run(house, sys.executable, "-m", "mypy", "--no-error-summary")
    run(house, "npx", "tsc", "--noEmit", within="ui")
    assert '"flume"' in (house / "ui" / "src" / "api" / "schema.d.ts").read_text(encoding="utf-8")


def test_it_is_drawn_computed_searched_and_told(house):
    said = json.loads(run(house, sys.executable, "-c", BEHAVES))
    assert said["name"] == "Flume 1"
    critical = (2.0 / 3.0) ** 1.5 * 9.81**0.5 * 0.5
    assert said["flow"] == pytest.approx([critical * head**1.5 for head in said["head"]], rel=1e-3)
    assert said["flow"][-1] > 0.5
    assert said["changes"] == ["Throat", "Sill"]
    assert said["read"] == [0.5]
