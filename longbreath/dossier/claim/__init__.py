"""Claims of a dossier: drafts made of facts, their gates, the frozen sheet, and what may be done with them."""
