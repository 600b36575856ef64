"""A board on the page: its table, its cells, its files, its door, its operating cases."""
