"""What the shop keeps and must be told: cautions where the danger is, its book, its ways and stock."""
