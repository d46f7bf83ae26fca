"""Pure rules over ratings and logs: what a coach does with a ranking; no pages, no SQL."""
