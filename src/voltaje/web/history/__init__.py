"""What is saved, once and in order: revisions, what changed between them, conflicts, undo."""
