"""Figures of storms in the database: they come back bit by bit, also those that an older program has kept."""

import dataclasses
import io
from pathlib import Path

import numpy as np
import pytest
import sqlalchemy as sa
from alembic import command
from alembic.config import Config

import madidus.store
from madidus.core.elements.figures import Figures
from madidus.store.database import connect
from madidus.store.results import Results

ARRAYS = [field.name for field in dataclasses.fields(Figures) if field.name not in ("key", "summary")]


def figures(marks: int) -> Figures:
    """Of 3 nodes and 2 links; what is not known is nan."""
    random = np.random.default_rng(marks)
    sizes = {"marks": marks, "passed_at": (marks, 5)} | dict.fromkeys(ARRAYS[ARRAYS.index("passed") :], 2)
    arrays = {name: random.random(sizes.get(name, 3)) for name in ARRAYS}
    arrays["half_drain"][1] = np.nan
    arrays["energy"][:] = -0.0
    return Figures("storm", **arrays, summary={"steps": marks})


def same(a: Figures, b: Figures) -> bool:
    pairs = [(getattr(a, name), getattr(b, name)) for name in ARRAYS]
    return a.summary == b.summary and all(x.shape == y.shape and x.tobytes() == y.tobytes() for x, y in pairs)


@pytest.mark.parametrize("marks", [0, 2])
def test_figures_come_back_bit_by_bit(engine, marks):
    results, kept = Results(engine), figures(marks)
    results.keep({"storm": f"digest {marks}"}, [kept])
    (back,) = results.find({"storm": f"digest {marks}", "another": "nobody's"}).values()
    assert same(back, kept)
    assert not same(back, figures(marks + 1))


def test_figures_of_an_older_program_are_taken_over(database):
    url = sa.make_url(database)
    with sa.create_engine(url, isolation_level="AUTOCOMMIT").connect() as connection:
        connection.execute(sa.text("CREATE DATABASE older"))
    older = sa.create_engine(url.set(database="older"))
    config = Config()
    config.set_main_option("script_location", str(Path(madidus.store.__file__).parent / "migrations"))
    kept, archive = figures(2), io.BytesIO()
    np.savez(archive, **{name: getattr(kept, name) for name in ARRAYS})
    with older.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0004")
        put = sa.text(
            "INSERT INTO storm (digest, figures, summary, used) VALUES ('d', :figures, '{\"steps\": 2}', now())"
        )
        connection.execute(put, {"figures": archive.getvalue()})
    older.dispose()
    newer = connect(url.set(database="older").render_as_string(hide_password=False))
    assert same(Results(newer).find({"storm": "d"})["storm"], kept)
    newer.dispose()
