"""From single strokes to a plan: order search, set-ups, gauging, remedies and wording."""
