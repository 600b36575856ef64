"""The pages of rules and tables."""
