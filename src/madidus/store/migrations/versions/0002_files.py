"""Files beside the document: pictures, drawings, terrain."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Make the table of files."""
    op.create_table(
        "file",
        sa.Column("project_id", sa.Uuid, sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("digest", sa.String, primary_key=True),
        sa.Column("content", sa.LargeBinary, nullable=False),
    )
    op.execute("ALTER TABLE file ALTER COLUMN content SET STORAGE EXTERNAL")
