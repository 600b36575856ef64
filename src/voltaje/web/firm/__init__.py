"""What a firm usually does: the settings and usual values that its new jobs begin with."""
