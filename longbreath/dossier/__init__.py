"""The dossier of an application: rows to core inputs, reads, and the verbs that change it. No web."""
