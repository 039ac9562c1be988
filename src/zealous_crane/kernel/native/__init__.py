"""The compiled back end. It is built where the program is set up, if a compiler is there."""
