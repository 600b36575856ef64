"""Nameplates of an account: equipment typed once and used by name in any job."""
