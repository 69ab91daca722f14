"""The path of a dossier: elements, both versions walked, faces, fit."""
