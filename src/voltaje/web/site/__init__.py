"""On site: one item on the phone, what its label says, its last readings, fields for new ones."""
