"""Log-ins that end on the server, one-time links, forms taken once, listed addresses and lines of instruments

Revision ID: 0007
Revises: 0006
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

LIST_WHAT_WAS_USED = """
insert into instrument_address (address, what, is_listed)
  select distinct device_url, 'in use before addresses were listed', true from bench where device_url <> ''
"""


def _text(name: str, comment: str | None = None) -> sa.Column:
    return sa.Column(name, sa.String(), nullable=False, comment=comment)


def _moment(name: str, nullable: bool = False, comment: str | None = None) -> sa.Column:
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable, comment=comment)


def _number(name: str, comment: str | None = None) -> sa.Column:
    return sa.Column(name, sa.Integer(), nullable=False, comment=comment)


def _table(
    name: str, *columns: sa.schema.SchemaItem, unique: str | None = None, key: tuple[str, str] | None = None, **more
) -> None:
    rules: list[sa.schema.SchemaItem] = [sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}"))]
    if unique:
        rules.append(sa.UniqueConstraint(unique, name=op.f(f"uq_{name}_{unique}")))
    if key:
        rules.append(sa.ForeignKeyConstraint([key[0]], [f"{key[1]}.id"], name=op.f(f"fk_{name}_{key[0]}_{key[1]}")))
    op.create_table(name, *columns, _number("id"), *rules, **more)


def upgrade() -> None:
    """Make the tables; addresses of benches that were in use are listed."""
    op.add_column("user_account", _moment("password_changed_at", True, "the last time; None for the first one"))
    _table(
        "sign_in",
        _number("user_id"),
        _text("digest", "SHA-256 of the key in the cookie"),
        _moment("begun_at"),
        _moment("ended_at", True),
        unique="digest",
        key=("user_id", "user_account"),
    )
    op.create_index(op.f("ix_sign_in_user_id"), "sign_in", ["user_id"])
    _table(
        "sign_in_try",
        _text("address", "network address it came from"),
        _text("email", "as it was written, shortened"),
        _moment("at"),
    )
    op.create_index(op.f("ix_sign_in_try_address"), "sign_in_try", ["address"])
    op.create_index(op.f("ix_sign_in_try_email"), "sign_in_try", ["email"])
    _table(
        "password_link",
        _number("user_id"),
        _text("digest", "SHA-256 of the key in the link"),
        _moment("made_at"),
        _moment("ends_at"),
        _moment("used_at", True),
        unique="digest",
        key=("user_id", "user_account"),
    )
    _table("sent_form", _text("key"), _moment("at"), _text("location"), unique="key")
    op.create_index(op.f("ix_sent_form_at"), "sent_form", ["at"])
    _table(
        "instrument_address",
        _text("address", "/dev/ttyUSB0, COM3 or socket://host:port"),
        _text("what", "what stands there, in the shop's words"),
        sa.Column("is_listed", sa.Boolean(), nullable=False),
        unique="address",
    )
    _table(
        "instrument_line",
        _text("address"),
        _moment("wanted_at", comment="when somebody last looked"),
        _moment("began_at", comment="when somebody began to look"),
        _moment("told_at", True, "when the gateway last wrote"),
        _text("state"),
        _text("words"),
        _text("device", "what the device calls itself"),
        _number("refused", "lines that were no readings"),
        unique="address",
    )
    spoken = postgresql.JSONB(astext_type=sa.Text())
    _table(
        "instrument_sample",
        _number("line_id"),
        sa.Column("at", sa.Double(), nullable=False, comment="s since 1970 by the clock of the database"),
        sa.Column("spoken", spoken, nullable=False, comment="what the device said; SI"),
        key=("line_id", "instrument_line"),
        prefixes=["UNLOGGED"],
    )
    op.create_index("ix_instrument_sample_line_at", "instrument_sample", ["line_id", "at"])
    op.execute(LIST_WHAT_WAS_USED)


def downgrade() -> None:
    """Drop the tables; everybody's log-in goes with them."""
    for table in (
        "instrument_sample",
        "instrument_line",
        "instrument_address",
        "sent_form",
        "password_link",
        "sign_in_try",
        "sign_in",
    ):
        op.drop_table(table)
    op.drop_column("user_account", "password_changed_at")
