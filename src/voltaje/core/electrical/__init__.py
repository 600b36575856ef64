"""Supply systems, points of supply and loads: what is electrical and needs no code book."""
