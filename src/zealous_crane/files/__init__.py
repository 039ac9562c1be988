"""Files: jobs, plans, drawings. Nothing here knows a screen."""
