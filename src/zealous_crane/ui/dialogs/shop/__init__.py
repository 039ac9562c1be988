"""The shop dialog: machines, metals, stock, small tools and shear, ways of measuring."""
