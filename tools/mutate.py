"""Break the code in one place at a time, count the places that the tests see, and list those that they do not.

Places are drawn at random from what [tool.mutmut] in pyproject.toml names. All is done in a clone of the last commit
below out/, some ten seconds a place. What only words a message otherwise is counted apart.
"""

import json
import os
import random
import re
import shutil
import subprocess
import sys
from collections import Counter
from pathlib import Path
from typing import Annotated

import typer

ROOT = Path(__file__).resolve().parents[1]
PLACE = ROOT / "out" / "mutate"
KILLED, SURVIVED, UNTESTED = (1, 3), 0, 33


def mutmut(*arguments: str, quiet: bool = True) -> str:
    environment = os.environ | {"PYTHONPATH": str(PLACE / "mutants" / "src"), "NUMBA_CACHE_DIR": str(PLACE / "kernels")}
    run = subprocess.run(
        [sys.executable, "-m", "mutmut", *arguments], cwd=PLACE, env=environment, text=True, check=False,
        stdout=subprocess.PIPE if quiet else None, stderr=subprocess.STDOUT if quiet else None,
    )  # fmt: skip
    return run.stdout or ""


def outcomes() -> dict[str, int | None]:
    """How the tests ended, by place; None where they were not run."""
    found: dict[str, int | None] = {}
    for meta in (PLACE / "mutants").rglob("*.meta"):
        found |= json.loads(meta.read_text(encoding="utf-8"))["exit_code_by_key"]
    return found


def is_wording(diff: str) -> bool:
    """Whether a change touches nothing but the letters of a text."""
    plain = {
        sign: "".join(
            line[1:] for line in diff.splitlines() if re.match(rf"{re.escape(sign)}[^{re.escape(sign)}]", line)
        )
        for sign in "-+"
    }
    return plain["-"].lower() == plain["+"].replace("XX", "").lower()


def main(
    sample: int = 400,
    seed: int = 1,
    only: Annotated[list[str] | None, typer.Option(help="beginning of module names, as madidus.core.edit")] = None,
) -> None:
    """Break places, one at a time."""
    shutil.rmtree(PLACE, ignore_errors=True)
    subprocess.run(["git", "clone", "-q", str(ROOT), str(PLACE)], check=True)
    shutil.copytree(ROOT / "ui" / "dist", PLACE / "ui" / "dist")
    started = mutmut("run", "none.of.them")
    names = sorted(name for name in outcomes() if name.startswith(tuple(only or [""])))
    if not names:
        sys.exit(started[-2000:] or "no place to break: see [tool.mutmut] in pyproject.toml")
    chosen = random.Random(seed).sample(names, min(sample, len(names)))
    ran = mutmut("run", "--max-children", "1", *chosen)
    ended = outcomes()
    if all(ended[name] is None for name in chosen):
        sys.exit(f"the tests do not pass on the code as it is: {ran[-2000:]}")
    missed = [name for name in chosen if ended[name] in (SURVIVED, UNTESTED)]
    wording = {name for name in missed if is_wording(mutmut("show", name))}
    seen = Counter(name.rpartition(".")[0] for name in chosen if ended[name] in KILLED)
    of = Counter(name.rpartition(".")[0] for name in chosen)
    for module in sorted(of):
        print(f"{module:44} {seen[module]:4} of {of[module]:4}")
    for name in missed:
        print("wording" if name in wording else "missed ", name)
    count, killed = sum(of.values()), sum(seen.values())
    odd = count - killed - len(missed)
    print(f"{count} of {len(names)} places broken: {killed} seen, {len(missed) - len(wording)} missed, "
          f"{len(wording)} that only word a text otherwise missed, {odd} timed out or failed to run")  # fmt: skip
    print(f"share seen {killed / count:.1%}; without the wording {killed / (count - len(wording)):.1%}")


if __name__ == "__main__":
    typer.run(main)
