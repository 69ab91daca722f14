"""Headers and CSRF."""

from __future__ import annotations

from flask import Flask
from flask_talisman import Talisman
from flask_wtf.csrf import CSRFProtect

POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": "'self'",
    "font-src": "'self'",
    "img-src": "'self' data:",
    "connect-src": "'self'",
    "form-action": "'self'",
    "base-uri": "'none'",
    "frame-ancestors": "'none'",
}

csrf = CSRFProtect()


def init_security(app: Flask) -> None:
    """Strict content policy without inline script or style; secure cookies when served over https."""
    csrf.init_app(app)
    secure = app.config["HTTPS"]
    Talisman(
        app,
        force_https=secure,
        session_cookie_secure=secure,
        strict_transport_security=secure,
        content_security_policy=POLICY,
        referrer_policy="same-origin",
        permissions_policy={},
    )
