"""Materials of a job with prices and hours: the account’s price list, orders as files."""
