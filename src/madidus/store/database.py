"""Connection and migration."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine
from sqlmodel import create_engine

__all__ = ["connect"]


def connect(url: str) -> Engine:
    """An engine on a database that is migrated to the newest revision."""
    engine = create_engine(url, pool_size=8, pool_pre_ping=True)
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
    return engine
