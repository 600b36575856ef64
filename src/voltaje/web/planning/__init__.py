"""Plans that a page works out: balance, conductor sizes, which supply."""
