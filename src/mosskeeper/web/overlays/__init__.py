"""Overlays: what lies on the picture of a shot and is edited by hand. Each is a package here, with its routes, view and templates."""
