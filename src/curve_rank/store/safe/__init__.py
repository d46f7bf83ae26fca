"""What keeps data safe: backups, restores, owners of files, what SQLite cannot do, and the shelf."""
