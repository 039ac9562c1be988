"""What is wanted: a base panel and a tree of flanges, with rules for corners, edges and holes; the
ready kinds."""
