"""The bench side of a dossier: traces, the desk, curves, maps, porting, exports."""
