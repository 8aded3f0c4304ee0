"""In a browser on a running server: from a key pressed to all margins, and the frames of a large plan."""

import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright

from madidus.core.model import Project
from madidus.postgres import free_port

__all__ = ["FRAMES", "edit_on_screen", "plan_frames"]

_PAUSE = 0.7  # s between edits, as people make them: the grid is checked meanwhile
_WATCH = """() => {
  window.began = window.first = window.done = null;
  let busy = false;
  const look = () => {
    const settled = document.querySelector("[data-testid=up-to-date]")?.textContent === "Up to date";
    const old = document.querySelector("[data-testid^=tile-].stale") !== null;
    if (!settled) busy = true;
    if (busy && !old && window.first === null) window.first = performance.now();
    if (busy && settled && window.done === null) window.done = performance.now();
  };
  window.watch?.disconnect();
  window.watch = new MutationObserver(look);
  window.watch.observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true });
  addEventListener("keydown", (e) => { if (e.key === "Enter") window.began = performance.now(); }, { once: true });
}"""
FRAMES = """() => {
  window.frames_ = [];
  let last = performance.now();
  const frame = (now) => { window.frames_.push(now - last); last = now; window.raf = requestAnimationFrame(frame); };
  window.raf = requestAnimationFrame(frame);
}"""


@contextmanager
def _browser() -> Iterator[Page]:
    """A page on a server of its own, with the demo on its projects."""
    with tempfile.TemporaryDirectory(prefix="madidus-bench-") as folder, sync_playwright() as playwright:
        Path(folder).chmod(0o755)
        port = free_port()
        command = [sys.executable, "-m", "madidus.cli", "serve", "--data", folder, "--port", str(port)]
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None
            while "is up" not in (line := server.stdout.readline()):
                if not line:
                    raise RuntimeError("the server does not start")
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
            )
            yield browser.new_page(viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{port}")
            browser.close()
        finally:
            server.terminate()
            server.wait(30)


def edit_on_screen(edits: int = 12) -> list[tuple[float, float]]:
    """Seconds to provisional and to all margins, for each of several edits of a length that the server has not seen."""
    seconds: list[tuple[float, float]] = []
    with _browser() as page:
        page.goto("/")
        page.get_by_role("link", name=re.compile("Quillmere Boatyard")).first.click()
        page.wait_for_selector("[data-testid=up-to-date]:has-text('Up to date')", timeout=120_000)
        page.get_by_test_id("section-L1–L2").or_(page.get_by_test_id("section-E11–P1")).first.click()
        field = page.get_by_test_id("length")
        for k in range(edits):
            page.evaluate(_WATCH)
            field.fill(f"{20.0 + 0.137 * (k + 1):.3f}")
            field.press("Enter")
            deadline = time.monotonic() + 60
            while page.evaluate("window.done") is None:
                if time.monotonic() > deadline:
                    raise RuntimeError(f"edit {k} is not answered: {page.get_by_test_id('run-state').inner_text()}")
                time.sleep(0.02)
            time.sleep(_PAUSE)
            seconds.append(tuple(page.evaluate("[window.first, window.done].map((t) => (t - window.began) / 1000)")))
    return seconds


def plan_frames(projects: list[Project]) -> list[dict[str, float]]:
    """For each project, without its rain: ms from opening to the plan, and ms of a frame while the plan is dragged."""
    found = []
    with _browser() as page:
        for project in projects:
            document = project.model_dump(mode="json")
            document["rain"] = {}
            network = next(iter(document["options"].values()))["network"]
            for k, node in enumerate(network["nodes"].values()):
                # the generated tree has no places: rows of forty metres, as in a town
                node["x"], node["y"] = 40.0 * (k % 80), 40.0 * (k // 80)
            made = page.request.post("/api/projects/import", data=document).json()
            began = time.perf_counter()
            page.goto(f"/p/{made['id']}/network")
            plan = page.get_by_test_id("plan")
            plan.locator("canvas").first.wait_for(timeout=120_000)
            page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
            opened = time.perf_counter() - began
            box = plan.bounding_box()
            assert box is not None
            x, y = box["x"] + 12, box["y"] + box["height"] / 2  # beside the network: the plan is dragged, not a node
            page.mouse.move(x, y)
            page.mouse.down()
            page.evaluate(FRAMES)
            for k in range(60):
                page.mouse.move(x + 2 * k, y + k)
            frames = np.array(page.evaluate("() => { cancelAnimationFrame(window.raf); return window.frames_; }"))
            page.mouse.up()
            found.append({
                "plan_opened_ms": opened * 1e3, "plan_frame_p50_ms": float(np.percentile(frames, 50)),
                "plan_frame_p95_ms": float(np.percentile(frames, 95)),
            })  # fmt: skip
    return found
