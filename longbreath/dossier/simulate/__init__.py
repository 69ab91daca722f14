"""From a dossier to a simulation case: path, bench curves, timing and vehicle, with what is missing and what was assumed."""
