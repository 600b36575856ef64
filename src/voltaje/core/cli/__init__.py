"""The command line: one sheet, or a whole job from a file, without a server."""
