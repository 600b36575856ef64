"""How much of the random examples and long tables is tried: a quarter, or with ``--full`` all."""

LEAST = 15  # so many examples are tried at least, where there are so many

full = False  # set once when the tests start, by tests/conftest.py


def examples(many: int) -> int:
    """How many of ``many`` random examples are tried."""
    return many if full else min(many, max(LEAST, many // 4))


def sample(items: list, every: int) -> list:
    """Of a table each ``every``-th; all of it with ``--full``."""
    return list(items) if full else list(items)[::every]
