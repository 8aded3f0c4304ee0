"""Reports that were issued."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """A table of them."""
    op.create_table(
        "issue",
        sa.Column("id", sa.BigInteger, primary_key=True),
        sa.Column("project_id", sa.Uuid, sa.ForeignKey("project.id", ondelete="CASCADE"), index=True, nullable=False),
        sa.Column("number", sa.String, nullable=False),
        sa.Column("option", sa.String, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("fingerprint", sa.String, nullable=False),
        sa.Column("layout", JSONB, nullable=False),
        sa.Column("document", JSONB, nullable=False),
        sa.Column("storms", JSONB, nullable=False),
        sa.Column("verdicts", JSONB, nullable=False),
        sa.Column("missing", sa.String, nullable=False),
        sa.Column("sha256", sa.String, nullable=False),
        sa.Column("content", sa.LargeBinary, nullable=False),
        sa.Column("made", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("project_id", "number"),
    )
