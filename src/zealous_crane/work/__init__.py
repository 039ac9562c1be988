"""A work of several parts: fits, joints and duct fittings tie them together."""
