"""The finished part: what is measured on it, what explains it, and how it sits with its mate."""
