"""Load, kills, clashing saves and hostile input against a server of its own on 127.0.0.1: `make soak`."""
