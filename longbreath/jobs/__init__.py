"""Long work beside the request: simulation sweeps over processes, with progress and cancel."""
