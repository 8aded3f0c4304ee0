"""In a browser on a large ensemble: from the last storm to the verdict, from one storm to another, graphs, replay."""

import re
import socket
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import uvicorn
from playwright.sync_api import Page, sync_playwright
from tools.bench_screen import FRAMES

import madidus.runs.runs as manager
from madidus.core.model import Project, parse_project
from madidus.postgres import cluster
from madidus.runs.scheduler import Local
from madidus.store.database import connect
from madidus.store.issues import Issues
from madidus.store.project_store import ProjectStore
from madidus.store.results import Results
from madidus.store.series import SeriesCache
from madidus.web.app import make_app

__all__ = ["reading"]

ROOT = Path(__file__).resolve().parents[1]
_RULES = [
    {"kind": "surcharge", "name": "No surcharge, 2 yr", "return_period": 2},
    {"kind": "cover", "name": "0.3 m below cover, 30 yr", "return_period": 30, "clearance": 0.3},
    {"kind": "flood_volume", "name": "Contained, 100 yr", "return_period": 100, "limit": 5.0},
    {"kind": "freeboard", "name": "Freeboard, 100 yr", "return_period": 100},
]
_DONE = """() => {
  window.done = null;
  const look = () => {
    const state = document.querySelector("[data-testid=up-to-date]")?.textContent;
    if (state === "Up to date" && document.querySelector("[data-testid=result-table] tbody tr") && window.done === null)
      requestAnimationFrame(() => { window.done = performance.timeOrigin + performance.now(); });
  };
  new MutationObserver(look).observe(document.body, { subtree: true, childList: true, characterData: true });
}"""
_SWITCH = """(key) => new Promise((done) => {
  const began = performance.now();
  const end = () => document.querySelector("[data-testid=trace]")?.getAttribute("aria-valuemax");
  const before = end();
  const look = () => {
    if (end() === before) return requestAnimationFrame(look);
    requestAnimationFrame(() => done(performance.now() - began));
  };
  document.querySelector(`[data-testid="storm-${key}"]`).dispatchEvent(new MouseEvent("click", { bubbles: true }));
  look();
})"""
_TRACES = """([option, element, storms]) => {
  const asked = new URLSearchParams({ element, quantity: "level" });
  for (const storm of storms) asked.append("storm", storm);
  const began = performance.now();
  return fetch(`${option}/traces?${asked}`).then((r) => r.arrayBuffer()).then((b) =>
    [performance.now() - began, b.byteLength]);
}"""


def _ensemble(pipes: Project, storms: int) -> Project:
    """The project with four rules, and so many storms by more return periods."""
    document = pipes.model_dump(mode="json")
    document["brief"]["criteria"] = _RULES
    ensemble = document["rain"]["ensemble"]
    rows = storms // (len(ensemble["durations"]) * len(ensemble["seasons"]))
    periods = [2, 30, 100, *np.round(np.linspace(3, 95, max(rows - 3, 0)), 1).tolist()][:rows]
    ensemble["probabilities"] = [{"return_period": p} for p in sorted(set(periods))]
    network = next(iter(document["options"].values()))["network"]
    for k, node in enumerate(network["nodes"].values()):
        node["x"], node["y"] = 40.0 * (k % 40), 40.0 * (k // 40)
    return parse_project(document)


@contextmanager
def _served() -> Iterator[tuple[str, dict[str, float]]]:
    """A server in this process, and when its last storm came in, s since the epoch."""
    last: dict[str, float] = {}
    plain = manager.run_plan

    def noted(*args, **kwargs):  # type: ignore[no-untyped-def]
        for result in plain(*args, **kwargs):
            last["storm"] = time.time()
            yield result

    with tempfile.TemporaryDirectory(prefix="madidus-bench-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder), "madidus_bench") as url, socket.socket() as taken:
            engine = connect(url)
            projects = ProjectStore(engine)
            runs = manager.Runs(projects, Results(engine), SeriesCache(Path(folder) / "series"), Local(2))
            taken.bind(("127.0.0.1", 0))
            port = taken.getsockname()[1]
            app = make_app(projects, Issues(engine), runs, ROOT / "ui" / "dist")
            server = uvicorn.Server(uvicorn.Config(app, log_level="warning"))
            thread = threading.Thread(target=server.run, kwargs={"sockets": [taken]}, daemon=True)
            thread.start()
            manager.run_plan = noted
            try:
                yield f"http://127.0.0.1:{port}", last
            finally:
                manager.run_plan = plain
                server.should_exit = True
                thread.join(20)
                engine.dispose()


def _replayed(page: Page) -> np.ndarray:
    """ms between frames of three seconds of replay."""
    page.get_by_test_id("play").click()
    page.wait_for_timeout(400)
    page.evaluate(FRAMES)
    page.wait_for_timeout(3000)
    frames = np.array(page.evaluate("() => { cancelAnimationFrame(window.raf); return window.frames_; }"))
    page.get_by_test_id("play").click()
    return frames[1:]


def reading(pipes: Project, storms: int) -> dict[str, float]:
    """Figures of one size: see the keys."""
    with _served() as (address, last), sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        page.set_default_timeout(60_000)
        project = _ensemble(pipes, storms)
        made = page.request.post("/api/projects/import", data=project.model_dump(mode="json")).json()
        page.goto(f"/p/{made['id']}/verdict")
        page.evaluate(_DONE)
        option = f"/api/projects/{made['id']}/options/{made['document']['in_view']}"
        page.request.post(f"{option}/run")
        deadline = time.monotonic() + 900
        while page.evaluate("window.done") is None:
            if time.monotonic() > deadline:
                raise RuntimeError("the ensemble does not come in")
            time.sleep(0.2)
        verdict = page.evaluate("window.done") / 1e3 - last["storm"]
        keys = [s["key"] for s in page.request.get(f"{option}/answer").json()["storms"]]
        page.wait_for_timeout(1500)
        switches = [page.evaluate(_SWITCH, key) for key in keys[1 : 1 + 17 * 11 : 17]]
        page.wait_for_timeout(3000)  # until what the last switch has asked for is there
        network = project.option.network
        element = next(iter(network.nodes))
        traces = [page.evaluate(_TRACES, [option, element, keys])[0] for _ in range(7)]
        page.goto(re.sub("verdict.*", "network", page.url))
        page.wait_for_selector("[data-testid=trace]")
        page.wait_for_timeout(1500)
        frames = _replayed(page)
        browser.close()
    return {
        "storms_read": len(keys), "verdict_after_last_storm_s": verdict,
        "storm_switch_p50_ms": float(np.median(switches)), "storm_switch_max_ms": float(max(switches)),
        "element_in_all_storms_p50_ms": float(np.median(traces)),
        "replay_frame_p50_ms": float(np.percentile(frames, 50)),
        "replay_frame_p95_ms": float(np.percentile(frames, 95)),
    }  # fmt: skip
