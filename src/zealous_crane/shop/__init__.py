"""What the shop keeps: settings, stock, its book and what the book teaches, and safety notes."""
