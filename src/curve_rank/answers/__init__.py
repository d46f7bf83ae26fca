"""What is answered, put together once for page, shell, file and phone."""
