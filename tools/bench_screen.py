"""From a key pressed in the browser to the whole ensemble's margins on the screen, on the demo."""

import re
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from playwright.sync_api import sync_playwright

from madidus.postgres import free_port

__all__ = ["edit_on_screen"]

_WATCH = """() => {
  window.began = window.done = null;
  let busy = false;
  const look = () => {
    const settled = document.querySelector("[data-testid=up-to-date]")?.textContent === "Up to date";
    if (!settled) busy = true;
    else if (busy && window.done === null) window.done = performance.now();
  };
  window.watch?.disconnect();
  window.watch = new MutationObserver(look);
  window.watch.observe(document.querySelector("header"), { subtree: true, childList: true, characterData: true });
  addEventListener("keydown", (e) => { if (e.key === "Enter") window.began = performance.now(); }, { once: true });
}"""


def edit_on_screen(edits: int = 12) -> list[float]:
    """Seconds for each of several edits of a pipe's length, none of which the server has seen before."""
    seconds: list[float] = []
    with tempfile.TemporaryDirectory(prefix="madidus-bench-") as folder, sync_playwright() as playwright:
        Path(folder).chmod(0o755)
        port = free_port()
        command = [sys.executable, "-m", "madidus.serve", "--data", folder, "--port", str(port)]
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None
            while "is up" not in (line := server.stdout.readline()):
                if not line:
                    raise RuntimeError("the server does not start")
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"http://127.0.0.1:{port}/")
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
                seconds.append(page.evaluate("(window.done - window.began) / 1000"))
            browser.close()
        finally:
            server.terminate()
            server.wait(30)
    return seconds
