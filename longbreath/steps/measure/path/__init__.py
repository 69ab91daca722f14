"""Path: the elements from mouth to tail, drawn to scale, with what each costs; readings of sizes; volumes."""
