"""Runs belong to options; projects have a card and their last verdict; storms are known by when they were used."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

from madidus.core.model.card import card_of
from madidus.core.model.project import completed

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """Add columns, and fill them from the current revisions."""
    moment = sa.DateTime(timezone=True)
    op.add_column("project", sa.Column("card", JSONB, nullable=False, server_default="{}"))
    op.add_column("project", sa.Column("verdict", JSONB))
    op.add_column("run", sa.Column("option", sa.String, nullable=False, server_default=""))
    op.add_column("storm", sa.Column("used", moment, nullable=False, server_default=sa.func.now()))
    op.create_index("storm_used", "storm", ["used"])
    connection = op.get_bind()
    current = connection.execute(
        sa.text(
            "SELECT p.id, r.document FROM project p JOIN revision r ON r.project_id = p.id AND r.number = p.revision"
        )
    )
    for project_id, document in current.all():
        whole = completed(document)
        card = sa.bindparam("card", card_of(whole).model_dump(mode="json"), type_=JSONB)
        connection.execute(
            sa.text("UPDATE project SET card = :card WHERE id = :id").bindparams(card), {"id": project_id}
        )
        connection.execute(
            sa.text("UPDATE run SET option = :option WHERE project_id = :id"),
            {"option": whole["in_view"], "id": project_id},
        )
