"""The case: everything that was seen of one comparison as plain data, its digest, and what is made of it."""
