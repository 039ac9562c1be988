"""Steps from one version of the book's tables to the next."""
