"""Long work with progress and cancel, shared out to all cores or a cluster. Knows no page and no request."""
