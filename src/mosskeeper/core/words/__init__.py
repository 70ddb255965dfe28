"""Words: a domain grammar from prompts to attribute values, and from readings back to words."""
