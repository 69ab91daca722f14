"""The command line: longbreath serve, the web server with as many processes as cores."""

from __future__ import annotations

import gc
import os
import threading
from typing import Any

import click

THREADS = 24
"""Requests at once in a process: most wait for the database, and each open desk takes one."""


@click.command()
@click.option(
    "--bind", default="127.0.0.1:8000", show_default=True, help="Address and port, or fd://N of a socket held open."
)
@click.option("--workers", type=click.IntRange(1, 64), help="Processes; as many as cores without it, two at least.")
def serve(bind: str, workers: int | None) -> None:
    """Serve the pages. What every process needs is loaded once, before they are forked: nobody's first page is slow."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the processes share the cores already
    from gunicorn.app.base import BaseApplication

    class Served(BaseApplication):  # type: ignore[misc]
        """Gunicorn with our settings."""

        def load_config(self) -> None:
            """Take the settings."""
            for name, value in settings(bind, workers).items():
                self.cfg.set(name, value)

        def load(self) -> Any:
            """The application, warm."""
            from longbreath.app import create_app
            from longbreath.web import first_looks

            app = create_app()
            warm(app)
            first_looks.look(app, app.extensions["longbreath"])
            settle_memory()
            return app

    Served().run()


def settings(bind: str, workers: int | None) -> dict[str, Any]:
    """The settings of the server."""
    return {
        "bind": bind,
        "workers": workers or max(2, os.cpu_count() or 1),
        "worker_class": "gthread",
        "threads": THREADS,
        "keepalive": 15,
        "timeout": 60,
        "graceful_timeout": 3,
        "preload_app": True,
        "loglevel": "warning",
        "post_fork": lambda server, worker: threading.Thread(target=warm_files, daemon=True).start(),
    }


def warm(app: Any) -> None:
    """Load what is loaded late otherwise: templates, the register, the ports of numerical libraries. Asks no database."""
    from longbreath.core.basis.nomenclature import terms
    from longbreath.core.compare.planning import provable
    from longbreath.core.compare.scatter import Scatter
    from longbreath.drawing import charts

    for name in app.jinja_env.list_templates(extensions=["html"]):
        app.jinja_env.get_template(name)
    terms()
    charts.warm()
    provable(Scatter(2.0), "AAABBBAAA", 180.0, "warming")


def settle_memory() -> None:
    """Tell the garbage collector that what is there now stays."""
    gc.collect()
    gc.freeze()  # what is loaded stays shared by the processes, and is not looked through again and again
    gc.set_threshold(30_000, 20, 50)  # a page leaves hardly a circle behind: looking for them took a twentieth of it


def warm_files() -> None:
    """Start the process that opens foreign files, in the background of a worker."""
    from longbreath.formats import apart

    apart.warm()
