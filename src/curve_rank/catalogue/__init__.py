"""The variant schema and the built-in variant documents. Holds no computation."""
