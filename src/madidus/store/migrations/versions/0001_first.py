"""Projects, revisions, runs and storm figures."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Make the first tables."""
    moment = sa.DateTime(timezone=True)
    op.create_table(
        "project",
        sa.Column("id", sa.Uuid, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("latest", sa.Integer, nullable=False),
        sa.Column("opened", moment, nullable=False),
    )
    owner = lambda: sa.Column(  # noqa: E731
        "project_id", sa.Uuid, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False, index=True
    )
    op.create_table(
        "revision",
        sa.Column("id", sa.BigInteger, primary_key=True),
        owner(),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("fingerprint", sa.String, nullable=False),
        sa.Column("document", JSONB, nullable=False),
        sa.Column("made", moment, nullable=False),
        sa.UniqueConstraint("project_id", "number"),
    )
    op.create_table(
        "run",
        sa.Column("id", sa.BigInteger, primary_key=True),
        owner(),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("state", sa.String, nullable=False),
        sa.Column("storms", JSONB, nullable=False),
        sa.Column("failures", JSONB, nullable=False),
        sa.Column("started", moment, nullable=False),
        sa.Column("ended", moment),
    )
    op.create_table(
        "storm",
        sa.Column("digest", sa.String, primary_key=True),
        sa.Column("figures", sa.LargeBinary, nullable=False),
        sa.Column("summary", JSONB, nullable=False),
    )
    op.execute("ALTER TABLE storm ALTER COLUMN figures SET STORAGE EXTERNAL")
