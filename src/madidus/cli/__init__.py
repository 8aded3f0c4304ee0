"""The command line: project files without database or web. Exit status 2: could not run."""

import json

import typer

from ..core.model.project import Project
from . import ensemble, networks, recorded, report, serving, steady

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Storm drainage under ensembles of design storms.")


@app.command()
def schema() -> None:
    """Print the JSON Schema of project files."""
    print(json.dumps(Project.model_json_schema(), indent=1, ensure_ascii=False))


for command in (
    ensemble.run, steady.steady, steady.capacity, recorded.recorded, report.report, report.verify, serving.serve,
    serving.tidy,
):  # fmt: skip
    app.command()(command)
app.command("import")(networks.import_network)
app.command("export")(networks.export_network)
app.command("edit")(networks.edit_network)
