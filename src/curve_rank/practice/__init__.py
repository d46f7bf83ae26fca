"""What a coach plans: a client, their room, chosen sets, a block and its rules; no pages, no SQL."""
