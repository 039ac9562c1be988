"""The shop's book: what was bent, measured and done. Records are only ever added."""
