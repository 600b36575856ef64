"""Rules and arithmetic. Nothing here knows of a page, a request or a database.

Imports go one way: ``study`` and ``headless`` → ``parts`` → ``rules`` →
``electrical`` and ``codes`` → ``worksheet`` and ``units``.
"""
