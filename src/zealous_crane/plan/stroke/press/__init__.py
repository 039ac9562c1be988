"""The press brake: punch and die shifting while the part turns about them, and the way in and out."""
