"""Running the program for years: what is measured of it, its state for whoever watches it, what is
wrong with a server, backups and whether they can be restored. ``deploy/README.md`` says how.
"""
