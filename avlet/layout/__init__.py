"""From a template and answers to the resting layout: bind, then arrange."""
