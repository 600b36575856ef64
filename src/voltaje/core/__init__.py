"""Rules and arithmetic. Nothing here knows of a page, a request or a database.

Imports go one way: ``cli`` → ``job`` → ``kinds`` → ``rules`` →
``electrical`` and ``codes`` → ``worksheet`` and ``units``.
"""
