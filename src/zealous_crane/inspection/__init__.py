"""The finished part: what is measured on it, what explains its sizes, and how it fits its mate."""
