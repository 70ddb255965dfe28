"""The commands behind `./moss` that work on files, without web or database."""
