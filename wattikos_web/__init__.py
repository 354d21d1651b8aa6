"""The web application: accounts, projects, cases and runs around the core."""
