"""Pages, accounts and jobs. Rules and formulas live in ``voltaje.core``."""
