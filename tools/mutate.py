"""Break the code in one place at a time, and count the places that the tests see.

tools/mutate.py [--sample 400] [--seed 1] [--only 'src/madidus/core/edit/*' …] [--list]

Places are drawn at random from what [tool.mutmut] in pyproject.toml names. All is done in a clone below out/, with the
last commit; lists the places that nobody saw. What only words a message otherwise is counted apart.
"""

import argparse
import json
import os
import random
import re
import shutil
import subprocess
import sys
from collections import Counter
from pathlib import Path

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


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--sample", type=int, default=400)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", nargs="*", default=[], help="beginnings of module names, as madidus.core.edit")
    given = parser.parse_args()
    shutil.rmtree(PLACE, ignore_errors=True)
    subprocess.run(["git", "clone", "-q", str(ROOT), str(PLACE)], check=True)
    shutil.copytree(ROOT / "ui" / "dist", PLACE / "ui" / "dist")
    started = mutmut("run", "none.of.them")
    names = sorted(name for name in outcomes() if not given.only or name.startswith(tuple(given.only)))
    if not names:
        sys.exit(started[-2000:] or "no place to break: see [tool.mutmut] in pyproject.toml")
    chosen = random.Random(given.seed).sample(names, min(given.sample, len(names)))
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
    main()
