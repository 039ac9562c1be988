"""The state behind the window: the job and its history, plans, the shop files, the book,
devices."""
