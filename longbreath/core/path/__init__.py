"""The air path: kinds of element, sections, losses, the walk along it, volumes, faces, fit."""
