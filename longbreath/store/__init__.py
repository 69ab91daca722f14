"""SQLAlchemy models, the session, the audit trail and the migrations. No web."""
