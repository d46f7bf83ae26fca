"""Open formats in and out: plain data for JSON, CSV tables, variant documents."""
