"""The wheel carries what a checkout has beside the package: the built interface and the demo projects."""

import shutil
from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

ROOT = Path(__file__).parent


class WithInterface(build_py):
    """Copies the interface and the demos into the package. An editable install finds them where they are."""

    def run(self) -> None:
        """Build the package, and what it carries."""
        super().run()
        if self.editable_mode:
            return
        package = Path(self.build_lib) / "madidus"
        built = ROOT / "ui" / "dist"
        if not (built / "index.html").exists():
            raise SystemExit("the interface is not built: run ./start once, or npm run build in ui/")
        shutil.copytree(built, package / "interface", dirs_exist_ok=True, ignore=shutil.ignore_patterns(".stamp"))
        (package / "demo").mkdir(exist_ok=True)
        for file in (ROOT / "demo").glob("*.madidus.json"):
            shutil.copy(file, package / "demo" / file.name)


setup(cmdclass={"build_py": WithInterface})
