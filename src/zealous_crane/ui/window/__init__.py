"""The main window: header, verdict, commands, and what they act on."""
