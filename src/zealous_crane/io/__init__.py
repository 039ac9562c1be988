"""Files in and out: jobs, plans, DXF, SVG, meshes, cutting lists. Nothing here knows a screen."""
