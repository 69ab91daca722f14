"""Pictures of the domain: pure functions from core results and measured sizes to SVG and chart specifications."""
